package sharptally.spark.lake;

import java.util.Optional;
import org.apache.spark.sql.types.ArrayType;
import org.apache.spark.sql.types.BinaryType;
import org.apache.spark.sql.types.BooleanType;
import org.apache.spark.sql.types.ByteType;
import org.apache.spark.sql.types.DataType;
import org.apache.spark.sql.types.DateType;
import org.apache.spark.sql.types.DecimalType;
import org.apache.spark.sql.types.DoubleType;
import org.apache.spark.sql.types.FloatType;
import org.apache.spark.sql.types.IntegerType;
import org.apache.spark.sql.types.LongType;
import org.apache.spark.sql.types.MapType;
import org.apache.spark.sql.types.ShortType;
import org.apache.spark.sql.types.StringType;
import org.apache.spark.sql.types.StructField;
import org.apache.spark.sql.types.StructType;
import org.apache.spark.sql.types.TimestampNTZType;
import org.apache.spark.sql.types.TimestampType;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** What columns of a lake hold, in terms that all engines share. */
final class LakeTypes {
    /** Where the session keeps that a text was declared with a length. */
    private static final String DECLARED = "__CHAR_VARCHAR_TYPE_STRING";

    /** In place of a text without letters that stands between quotes in a text file. */
    static final String EMPTY = "\uE000empty\uE000";

    private static final int MICROS = 6;

    private LakeTypes() {}

    static ColumnShape column(StructField field, boolean written) {
        String declared = field.metadata().contains(DECLARED)
                ? field.metadata().getString(DECLARED)
                : field.dataType().catalogString();
        Optional<CanonicalType> type = written
                ? Optional.of(CanonicalType.written())
                : declared.startsWith("char(")
                        ? Optional.of(CanonicalType.paddedText())
                        : Optional.of(canonical(field.dataType()));
        return new ColumnShape(field.name(), declared, type, field.nullable(), Generation.NONE, Optional.empty());
    }

    private static CanonicalType canonical(DataType type) {
        if (type instanceof ByteType
                || type instanceof ShortType
                || type instanceof IntegerType
                || type instanceof LongType) {
            return CanonicalType.of(Kind.INTEGER);
        } else if (type instanceof DecimalType decimal) {
            return CanonicalType.of(decimal.scale() == 0 ? Kind.INTEGER : Kind.DECIMAL);
        } else if (type instanceof BooleanType) {
            return CanonicalType.of(Kind.BOOLEAN);
        } else if (type instanceof FloatType) {
            return CanonicalType.of(Kind.FLOAT);
        } else if (type instanceof DoubleType) {
            return CanonicalType.of(Kind.DOUBLE);
        } else if (type instanceof StringType) {
            return CanonicalType.of(Kind.TEXT);
        } else if (type instanceof BinaryType) {
            return CanonicalType.of(Kind.BYTES);
        } else if (type instanceof DateType) {
            return CanonicalType.of(Kind.DATE);
        } else if (type instanceof TimestampType) {
            return CanonicalType.time(Kind.INSTANT, MICROS);
        } else if (type instanceof TimestampNTZType) {
            return CanonicalType.time(Kind.TIMESTAMP, MICROS);
        } else if (isNested(type)) {
            return CanonicalType.of(Kind.JSON);
        }
        return CanonicalType.other("spark", type.catalogString());
    }

    private static boolean isNested(DataType type) {
        return type instanceof StructType
                || type instanceof ArrayType
                || type instanceof MapType
                || type.typeName().equals("variant");
    }

    /**
     * The SQL by which a column is read.
     *
     * @param written whether it holds the writing of values
     */
    static String read(String name, DataType type, boolean written) {
        String quoted = "`" + name.replace("`", "``") + "`";
        if (written) {
            return "CASE " + quoted + " WHEN '" + EMPTY + "' THEN '' ELSE " + quoted + " END AS " + quoted;
        }
        if (isNested(type)) {
            return "to_json(" + quoted + ", map('ignoreNullFields', 'false')) AS " + quoted;
        }
        return isPlain(type) ? quoted : "CAST(" + quoted + " AS STRING) AS " + quoted;
    }

    private static boolean isPlain(DataType type) {
        return !canonical(type).kind().equals(Kind.OTHER);
    }
}
