package sharptally.engines.sqlite;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * What a declared type means. SQLite lets any value stand in any column; the declaration only tells what is meant. The
 * first word of the list that the declaration contains decides; no declaration, or one without any of these words,
 * means any value.
 */
final class SqliteTypes {
    private static final List<Map.Entry<String, Kind>> WORDS = List.of(
            Map.entry("BOOL", Kind.BOOLEAN),
            Map.entry("TIMESTAMPTZ", Kind.INSTANT),
            Map.entry("WITH TIME ZONE", Kind.INSTANT),
            Map.entry("TIMESTAMP", Kind.TIMESTAMP),
            Map.entry("DATETIME", Kind.TIMESTAMP),
            Map.entry("DATE", Kind.DATE),
            Map.entry("TIME", Kind.TIME),
            Map.entry("INT", Kind.INTEGER),
            Map.entry("UUID", Kind.UUID),
            Map.entry("CHAR", Kind.TEXT),
            Map.entry("CLOB", Kind.TEXT),
            Map.entry("TEXT", Kind.TEXT),
            Map.entry("JSON", Kind.JSON),
            Map.entry("BLOB", Kind.BYTES),
            Map.entry("BINARY", Kind.BYTES),
            Map.entry("REAL", Kind.DOUBLE),
            Map.entry("FLOA", Kind.DOUBLE),
            Map.entry("DOUB", Kind.DOUBLE),
            Map.entry("DEC", Kind.DECIMAL),
            Map.entry("NUM", Kind.DECIMAL));

    private SqliteTypes() {}

    static CanonicalType canonical(String declared) {
        String upper = declared.toUpperCase(Locale.ROOT);
        return CanonicalType.of(WORDS.stream()
                .filter(word -> upper.contains(word.getKey()))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(Kind.ANY));
    }
}
