package sharptally.engines.h2;

import java.util.Map;
import java.util.Optional;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What H2's types mean, by the name in its information schema. */
final class H2Types {
    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("BOOLEAN", Kind.BOOLEAN),
            Map.entry("TINYINT", Kind.INTEGER),
            Map.entry("SMALLINT", Kind.INTEGER),
            Map.entry("INTEGER", Kind.INTEGER),
            Map.entry("BIGINT", Kind.INTEGER),
            Map.entry("NUMERIC", Kind.DECIMAL),
            Map.entry("REAL", Kind.FLOAT),
            Map.entry("DOUBLE PRECISION", Kind.DOUBLE),
            Map.entry("CHARACTER VARYING", Kind.TEXT),
            Map.entry("VARCHAR_IGNORECASE", Kind.TEXT),
            Map.entry("CHARACTER LARGE OBJECT", Kind.TEXT),
            Map.entry("ENUM", Kind.TEXT),
            Map.entry("BINARY", Kind.BYTES),
            Map.entry("BINARY VARYING", Kind.BYTES),
            Map.entry("BINARY LARGE OBJECT", Kind.BYTES),
            Map.entry("DATE", Kind.DATE),
            Map.entry("TIME", Kind.TIME),
            Map.entry("TIMESTAMP", Kind.TIMESTAMP),
            Map.entry("TIMESTAMP WITH TIME ZONE", Kind.INSTANT),
            Map.entry("UUID", Kind.UUID),
            Map.entry("JSON", Kind.JSON),
            Map.entry("DECFLOAT", Kind.OTHER),
            Map.entry("TIME WITH TIME ZONE", Kind.OTHER),
            Map.entry("INTERVAL", Kind.OTHER),
            Map.entry("GEOMETRY", Kind.OTHER));

    private H2Types() {}

    /** Empty for arrays, rows and Java objects, which have no text form that tells all values apart. */
    static Optional<CanonicalType> canonical(String dataType, int digits, String declared) {
        if (dataType.equals("CHARACTER")) {
            return Optional.of(CanonicalType.paddedText());
        }
        return Optional.ofNullable(KINDS.get(dataType)).map(kind -> switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(kind, digits);
            case OTHER -> CanonicalType.other("h2", declared);
            default -> CanonicalType.of(kind);
        });
    }
}
