package sharptally.core.rows;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import sharptally.core.types.Value;

/**
 * Hashes of cells: cells that differ by {@link CellOrder} have the same one only by chance; those that are equal have the same,
 * but for a floating value that is no whole number beside an exact one.
 */
public final class CellHash {
    private static final double MAX_WHOLE = 0x1p53;
    private static final int LONG_BITS = 63;

    private final RecordHash hash;

    public CellHash(RecordHash hash) {
        this.hash = hash;
    }

    public long of(Column column, int row) {
        byte tag = column.tags[row];
        long first = column.payload[row];
        return switch (tag) {
            case Tag.NULL -> RecordHash.NULL;
            case Tag.INT -> hash.ofNumbers(Tag.INT, first, 0);
            case Tag.DECIMAL -> ofDecimal(first, column.second[row]);
            case Tag.BIG -> ofDecimal(column.decimal(row));
            case Tag.FLOAT, Tag.DOUBLE -> ofDouble(Double.longBitsToDouble(first));
            case Tag.BOOL, Tag.DATE, Tag.TIME -> hash.ofNumbers(tag, first, 0);
            case Tag.TIMESTAMP, Tag.INSTANT -> hash.ofNumbers(tag, first, column.second[row]);
            case Tag.TEXT, Tag.BYTES, Tag.UUID -> ofBytes(tag, column.arena, (int) first, column.second[row]);
            case Tag.OTHER -> {
                Value.Other other = (Value.Other) column.object(row);
                byte[] bytes = (other.type() + '\0' + other.text()).getBytes(StandardCharsets.UTF_8);
                yield ofBytes(tag, bytes, 0, bytes.length);
            }
            default -> throw new IllegalStateException("unknown tag " + tag);
        };
    }

    private long ofBytes(byte tag, byte[] bytes, int from, int length) {
        // Nearly all are text.
        long of = hash.ofField(bytes, from, length);
        return tag == Tag.TEXT ? of : hash.ofNumbers(tag, of, 0);
    }

    private long ofDecimal(long unscaled, int scale) {
        if (scale < 0) {
            return ofDecimal(BigDecimal.valueOf(unscaled, scale));
        }
        long number = unscaled;
        int digits = scale;
        while (digits > 0 && number % 10 == 0) {
            number /= 10;
            digits--;
        }
        return hash.ofNumbers(Tag.INT, number, digits);
    }

    private long ofDecimal(BigDecimal value) {
        BigDecimal stripped = value.stripTrailingZeros();
        BigDecimal plain = stripped.scale() < 0 ? stripped.setScale(0) : stripped;
        BigInteger unscaled = plain.unscaledValue();
        if (unscaled.bitLength() <= LONG_BITS) {
            return hash.ofNumbers(Tag.INT, unscaled.longValue(), plain.scale());
        }
        byte[] bytes = unscaled.toByteArray();
        return hash.ofNumbers(Tag.BIG, hash.ofField(bytes, 0, bytes.length), plain.scale());
    }

    private long ofDouble(double value) {
        // Negative zero is zero.
        long whole = (long) value;
        return whole == value && Math.abs(value) <= MAX_WHOLE
                ? hash.ofNumbers(Tag.INT, whole, 0)
                : hash.ofNumbers(Tag.DOUBLE, Double.doubleToLongBits(value), 0);
    }
}
