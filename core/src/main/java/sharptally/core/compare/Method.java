package sharptally.core.compare;

import java.util.Locale;

/** How the rows of a match are compared. All methods find the same differences. */
public enum Method {
    /** The one that is expected to be fastest, by measuring; another one where that turns out wrong. */
    AUTO,
    /** Both sides are read in key order and merged here. */
    STREAM,
    /** Each side works out checksums over ranges of the key; only ranges that differ are read. */
    CHECKSUM,
    /** Both tables are on one server, which joins them and hands over the rows that are distinct. */
    JOINED;

    /** The word that users read and write. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    @Override
    public String toString() {
        return word();
    }
}
