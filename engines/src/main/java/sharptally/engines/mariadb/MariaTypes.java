package sharptally.engines.mariadb;

import java.util.Map;
import java.util.Optional;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What MariaDB's types mean, by the type's name in the information schema. */
final class MariaTypes {
    private static final Map<String, Kind> KINDS = Map.ofEntries(
            Map.entry("tinyint", Kind.INTEGER),
            Map.entry("smallint", Kind.INTEGER),
            Map.entry("mediumint", Kind.INTEGER),
            Map.entry("int", Kind.INTEGER),
            Map.entry("bigint", Kind.INTEGER),
            Map.entry("year", Kind.INTEGER),
            Map.entry("decimal", Kind.DECIMAL),
            Map.entry("float", Kind.FLOAT),
            Map.entry("double", Kind.DOUBLE),
            Map.entry("varchar", Kind.TEXT),
            Map.entry("tinytext", Kind.TEXT),
            Map.entry("text", Kind.TEXT),
            Map.entry("mediumtext", Kind.TEXT),
            Map.entry("longtext", Kind.TEXT),
            Map.entry("enum", Kind.TEXT),
            Map.entry("set", Kind.TEXT),
            Map.entry("json", Kind.JSON),
            Map.entry("binary", Kind.BYTES),
            Map.entry("varbinary", Kind.BYTES),
            Map.entry("tinyblob", Kind.BYTES),
            Map.entry("blob", Kind.BYTES),
            Map.entry("mediumblob", Kind.BYTES),
            Map.entry("longblob", Kind.BYTES),
            Map.entry("geometry", Kind.BYTES),
            Map.entry("point", Kind.BYTES),
            Map.entry("linestring", Kind.BYTES),
            Map.entry("polygon", Kind.BYTES),
            Map.entry("multipoint", Kind.BYTES),
            Map.entry("multilinestring", Kind.BYTES),
            Map.entry("multipolygon", Kind.BYTES),
            Map.entry("geometrycollection", Kind.BYTES),
            Map.entry("geomcollection", Kind.BYTES),
            Map.entry("bit", Kind.BITS),
            Map.entry("date", Kind.DATE),
            Map.entry("time", Kind.TIME),
            Map.entry("datetime", Kind.TIMESTAMP),
            Map.entry("timestamp", Kind.INSTANT),
            Map.entry("uuid", Kind.UUID),
            Map.entry("inet4", Kind.OTHER),
            Map.entry("inet6", Kind.OTHER));

    private MariaTypes() {}

    /**
     * @param declared the type in words, such as {@code tinyint(1)}
     * @param digits digits of a second
     * @param isJson whether a text column is one by the check that the type JSON stands for
     */
    static Optional<CanonicalType> canonical(String type, String declared, int digits, boolean isJson) {
        if (type.equals("char")) {
            return Optional.of(CanonicalType.paddedText());
        }
        if (declared.equals("tinyint(1)")) {
            return Optional.of(CanonicalType.of(Kind.INTEGER));
        }
        if (isJson) {
            return Optional.of(CanonicalType.of(Kind.JSON));
        }
        return Optional.ofNullable(KINDS.get(type)).map(kind -> switch (kind) {
            case TIME, TIMESTAMP, INSTANT -> CanonicalType.time(kind, digits);
            case OTHER -> CanonicalType.other("mariadb", type);
            default -> CanonicalType.of(kind);
        });
    }
}
