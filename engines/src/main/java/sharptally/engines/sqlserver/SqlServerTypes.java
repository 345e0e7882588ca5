package sharptally.engines.sqlserver;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What SQL Server's types mean, by the name of the type that others are made of. */
final class SqlServerTypes {
    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("bit", Kind.BOOLEAN),
            Map.entry("tinyint", Kind.INTEGER),
            Map.entry("smallint", Kind.INTEGER),
            Map.entry("int", Kind.INTEGER),
            Map.entry("bigint", Kind.INTEGER),
            Map.entry("decimal", Kind.DECIMAL),
            Map.entry("numeric", Kind.DECIMAL),
            Map.entry("money", Kind.DECIMAL),
            Map.entry("smallmoney", Kind.DECIMAL),
            Map.entry("real", Kind.FLOAT),
            Map.entry("float", Kind.DOUBLE),
            Map.entry("char", Kind.TEXT),
            Map.entry("nchar", Kind.TEXT),
            Map.entry("varchar", Kind.TEXT),
            Map.entry("nvarchar", Kind.TEXT),
            Map.entry("text", Kind.TEXT),
            Map.entry("ntext", Kind.TEXT),
            Map.entry("binary", Kind.BYTES),
            Map.entry("varbinary", Kind.BYTES),
            Map.entry("image", Kind.BYTES),
            Map.entry("timestamp", Kind.BYTES),
            Map.entry("date", Kind.DATE),
            Map.entry("time", Kind.TIME),
            Map.entry("datetime", Kind.TIMESTAMP),
            Map.entry("smalldatetime", Kind.TIMESTAMP),
            Map.entry("datetime2", Kind.TIMESTAMP),
            Map.entry("datetimeoffset", Kind.INSTANT),
            Map.entry("uniqueidentifier", Kind.UUID),
            Map.entry("json", Kind.JSON),
            Map.entry("xml", Kind.OTHER),
            Map.entry("hierarchyid", Kind.OTHER));

    private static final Set<String> PADDED = Set.of("char", "nchar");
    private static final Set<String> SIZED = Set.of("char", "nchar", "varchar", "nvarchar", "binary", "varbinary");
    private static final Set<String> OF_TWO_BYTES = Set.of("nchar", "nvarchar");
    private static final Set<String> WITH_DIGITS = Set.of("time", "datetime2", "datetimeoffset");

    private SqlServerTypes() {}

    /**
     * Empty for what can't be compared: {@code sql_variant}, {@code geometry}, {@code geography} and what users made.
     *
     * @param scale digits of a second; an old {@code datetime} has three, which it rounds to thirds of a hundredth
     */
    static Optional<CanonicalType> canonical(String type, int scale) {
        if (PADDED.contains(type)) {
            return Optional.of(CanonicalType.paddedText());
        }
        return Optional.ofNullable(KINDS.get(type)).map(kind -> switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(kind, type.equals("smalldatetime") ? 0 : scale);
            case OTHER -> CanonicalType.other("sqlserver", type);
            default -> CanonicalType.of(kind);
        });
    }

    /**
     * As it is declared.
     *
     * @param bytes -1 for {@code max}
     */
    static String declared(String type, int bytes, int precision, int scale) {
        if (SIZED.contains(type)) {
            int size = OF_TWO_BYTES.contains(type) ? bytes / 2 : bytes;
            return type + "(" + (bytes < 0 ? "max" : Integer.toString(size)) + ")";
        } else if (type.equals("decimal") || type.equals("numeric")) {
            return type + "(" + precision + "," + scale + ")";
        }
        return WITH_DIGITS.contains(type) ? type + "(" + scale + ")" : type;
    }

    /** The type without lengths. */
    static String base(String declared) {
        int bracket = declared.indexOf('(');
        return bracket < 0 ? declared : declared.substring(0, bracket);
    }
}
