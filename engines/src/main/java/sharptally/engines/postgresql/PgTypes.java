package sharptally.engines.postgresql;

import java.util.Map;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What PostgreSQL's types mean, by the name of the base type in its catalogue. */
final class PgTypes {
    private static final int MICROSECONDS = 6;

    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("bool", Kind.BOOLEAN),
            Map.entry("int2", Kind.INTEGER),
            Map.entry("int4", Kind.INTEGER),
            Map.entry("int8", Kind.INTEGER),
            Map.entry("oid", Kind.INTEGER),
            Map.entry("numeric", Kind.DECIMAL),
            Map.entry("float4", Kind.FLOAT),
            Map.entry("float8", Kind.DOUBLE),
            Map.entry("text", Kind.TEXT),
            Map.entry("varchar", Kind.TEXT),
            Map.entry("name", Kind.TEXT),
            Map.entry("citext", Kind.TEXT),
            Map.entry("bytea", Kind.BYTES),
            Map.entry("date", Kind.DATE),
            Map.entry("time", Kind.TIME),
            Map.entry("timestamp", Kind.TIMESTAMP),
            Map.entry("timestamptz", Kind.INSTANT),
            Map.entry("uuid", Kind.UUID),
            Map.entry("json", Kind.JSON),
            Map.entry("jsonb", Kind.JSON),
            Map.entry("bit", Kind.BITS),
            Map.entry("varbit", Kind.BITS));

    private PgTypes() {}

    /**
     * @param typmod modifier of the column or its domain, -1 for none
     * @param declared the type in words, for types that only PostgreSQL has
     */
    static CanonicalType canonical(String baseType, boolean isEnum, int typmod, String declared) {
        if (isEnum) {
            return CanonicalType.of(Kind.TEXT);
        }
        if (baseType.equals("bpchar")) {
            return CanonicalType.paddedText();
        }
        Kind kind = KINDS.get(baseType);
        if (kind == null) {
            // Arrays, ranges, network addresses, composites, intervals: every type has a text that it reads back.
            return CanonicalType.other("postgresql", declared);
        }
        return switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(kind, typmod < 0 ? MICROSECONDS : typmod);
            default -> CanonicalType.of(kind);
        };
    }
}
