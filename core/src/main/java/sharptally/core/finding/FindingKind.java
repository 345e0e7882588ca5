package sharptally.core.finding;

import java.util.Locale;

/** The kinds of differing row. */
public enum FindingKind {
    MISSING,
    EXTRA,
    CHANGED,
    REPEATED;

    @Override
    public String toString() {
        return word();
    }

    /** The word that users read and write. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
