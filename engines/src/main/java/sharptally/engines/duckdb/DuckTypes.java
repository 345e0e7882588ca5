package sharptally.engines.duckdb;

import java.util.Map;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What DuckDB's types mean, by the words in which its catalogue tells them. */
final class DuckTypes {
    private static final int MILLISECONDS = 3;
    private static final int MICROSECONDS = 6;

    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("BOOLEAN", Kind.BOOLEAN),
            Map.entry("TINYINT", Kind.INTEGER),
            Map.entry("SMALLINT", Kind.INTEGER),
            Map.entry("INTEGER", Kind.INTEGER),
            Map.entry("BIGINT", Kind.INTEGER),
            Map.entry("HUGEINT", Kind.INTEGER),
            Map.entry("UTINYINT", Kind.INTEGER),
            Map.entry("USMALLINT", Kind.INTEGER),
            Map.entry("UINTEGER", Kind.INTEGER),
            Map.entry("UBIGINT", Kind.INTEGER),
            Map.entry("UHUGEINT", Kind.INTEGER),
            Map.entry("BIGNUM", Kind.INTEGER),
            Map.entry("FLOAT", Kind.FLOAT),
            Map.entry("DOUBLE", Kind.DOUBLE),
            Map.entry("VARCHAR", Kind.TEXT),
            Map.entry("BLOB", Kind.BYTES),
            Map.entry("DATE", Kind.DATE),
            Map.entry("UUID", Kind.UUID),
            Map.entry("JSON", Kind.JSON),
            Map.entry("BIT", Kind.BITS));

    private DuckTypes() {}

    static CanonicalType canonical(String declared) {
        if (declared.startsWith("DECIMAL") && !isNested(declared)) {
            return CanonicalType.of(Kind.DECIMAL);
        }
        if (declared.startsWith("ENUM") && !declared.endsWith("]")) {
            return CanonicalType.of(Kind.TEXT);
        }
        return switch (declared) {
            case "TIME" -> CanonicalType.time(Kind.TIME, MICROSECONDS);
            case "TIME_NS" -> CanonicalType.time(Kind.TIME, CanonicalType.ANY_DIGITS);
            case "TIMESTAMP_S" -> CanonicalType.time(Kind.TIMESTAMP, 0);
            case "TIMESTAMP_MS" -> CanonicalType.time(Kind.TIMESTAMP, MILLISECONDS);
            case "TIMESTAMP" -> CanonicalType.time(Kind.TIMESTAMP, MICROSECONDS);
            case "TIMESTAMP_NS" -> CanonicalType.time(Kind.TIMESTAMP, CanonicalType.ANY_DIGITS);
            case "TIMESTAMP WITH TIME ZONE" -> CanonicalType.time(Kind.INSTANT, MICROSECONDS);
            default -> {
                Kind kind = KINDS.get(declared);
                yield kind == null ? CanonicalType.other("duckdb", declared) : CanonicalType.of(kind);
            }
        };
    }

    /** Lists, structs and maps, whose plain text does not tell all values apart. */
    static boolean isNested(String declared) {
        return declared.endsWith("]")
                || declared.startsWith("STRUCT")
                || declared.startsWith("MAP")
                || declared.startsWith("UNION");
    }
}
