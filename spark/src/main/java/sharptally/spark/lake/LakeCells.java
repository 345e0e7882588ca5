package sharptally.spark.lake;

import org.apache.spark.sql.types.Decimal;
import org.apache.spark.sql.types.DecimalType;
import org.apache.spark.unsafe.Platform;
import org.apache.spark.unsafe.types.UTF8String;
import sharptally.core.rows.Column;

/** Values as Spark holds them, as cells. */
final class LakeCells {
    private static final long MICROS = 1_000_000;
    private static final int NANOS_PER_MICRO = 1_000;

    private LakeCells() {}

    /**
     * @param micros since 1970
     * @param instant whether in UTC; else as if
     */
    static void time(long micros, boolean instant, Column into) {
        long second = Math.floorDiv(micros, MICROS);
        int nanos = (int) Math.floorMod(micros, MICROS) * NANOS_PER_MICRO;
        if (instant) {
            into.addInstant(second, nanos);
        } else {
            into.addTimestamp(second, nanos);
        }
    }

    /** Straight out of the bytes in which it lies, where they are an array. */
    static void text(UTF8String text, Column into) {
        if (text.getBaseObject() instanceof byte[] bytes) {
            into.addTextCopied(bytes, (int) (text.getBaseOffset() - Platform.BYTE_ARRAY_OFFSET), text.numBytes());
        } else {
            byte[] copy = text.getBytes();
            into.addText(copy, 0, copy.length);
        }
    }

    static void decimal(Decimal value, DecimalType type, Column into) {
        if (type.precision() <= Decimal.MAX_LONG_DIGITS()) {
            into.addDecimal(value.toUnscaledLong(), type.scale());
        } else {
            into.addDecimal(value.toJavaBigDecimal());
        }
    }
}
