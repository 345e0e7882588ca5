package sharptally.core.sql;

import sharptally.core.types.Kind;

/** What an engine calls the types that hold the values of others. */
public interface TypeNames {
    /**
     * A type that holds all values of a kind, by the words of the standard where the engine knows them.
     *
     * @param size of whole numbers their bytes, of decimals their digits, of text its characters, of times the digits of a
     *     second; 0 where it is not limited
     * @param scale of decimals their digits behind the point
     */
    default String typeName(Kind kind, int size, int scale) {
        return switch (kind) {
            case BOOLEAN -> "BOOLEAN";
            case INTEGER -> size == 2 ? "SMALLINT" : size == 4 ? "INTEGER" : "BIGINT";
            case DECIMAL -> size == 0 ? "DECIMAL(38, 10) /* CHECK digits */" : "DECIMAL(" + size + ", " + scale + ")";
            case FLOAT -> "REAL";
            case DOUBLE -> "DOUBLE PRECISION";
            case BYTES -> "BLOB";
            case DATE -> "DATE";
            case TIME -> "TIME(" + size + ")";
            case TIMESTAMP -> "TIMESTAMP(" + size + ")";
            case INSTANT -> "TIMESTAMP(" + size + ") WITH TIME ZONE";
            case UUID -> "UUID";
            case JSON -> "JSON";
            default -> size == 0 ? "CHARACTER LARGE OBJECT" : "CHARACTER VARYING(" + size + ")";
        };
    }
}
