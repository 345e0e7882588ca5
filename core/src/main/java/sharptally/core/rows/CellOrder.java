package sharptally.core.rows;

import java.math.BigDecimal;
import java.util.Arrays;
import sharptally.core.types.Value;

/**
 * The one total order of cells, which also says which cells are held equal: they are those that compare as 0.
 *
 * <p>NULL comes first and equals NULL. Numbers are ordered by value, whatever their tag (1, 1.0 and 1.00 are equal; all
 * NaN are equal and come last; negative zero equals zero). Text and bytes are ordered by their bytes, unsigned, which
 * for UTF-8 is the order of code points. Cells of different nature are never equal; their order is that of their tags.
 */
public final class CellOrder {
    /** Of a prefix, below the tag. */
    private static final int PREFIX_BITS = 58;

    private static final int PREFIX_BYTES = PREFIX_BITS / 8;
    private static final int NANO_BITS = 16;

    /** Whole numbers up to it, and powers of ten up to {@link #MOST_PLACES}, are exactly floating values. */
    private static final long EXACT = 1L << 53;

    private static final int MOST_PLACES = 22;
    private static final int MOST_PLACES_OF_LONG = 18;
    private static final double[] TENS = new double[MOST_PLACES + 1];
    private static final long[] FIVES = new long[MOST_PLACES + 1];

    static {
        TENS[0] = 1;
        FIVES[0] = 1;
        for (int i = 1; i <= MOST_PLACES; i++) {
            TENS[i] = TENS[i - 1] * 10;
            FIVES[i] = FIVES[i - 1] * 5;
        }
    }

    private CellOrder() {}

    public static boolean same(Column one, int row, Column other, int otherRow) {
        byte tag = one.tags[row];
        if (tag == other.tags[otherRow]) {
            if (Tag.isSlice(tag)) {
                int length = one.second[row];
                if (length != other.second[otherRow]) {
                    return false;
                }
                int from = (int) one.payload[row];
                int otherFrom = (int) other.payload[otherRow];
                return Arrays.equals(one.arena, from, from + length, other.arena, otherFrom, otherFrom + length);
            }
            if (tag <= Tag.INT || tag == Tag.DATE || tag == Tag.TIME) {
                return one.payload[row] == other.payload[otherRow];
            }
        } else if (isBinary(tag) && isShort(other, otherRow)) {
            return isSame(Double.longBitsToDouble(one.payload[row]), other, otherRow);
        } else if (isBinary(other.tags[otherRow]) && isShort(one, row)) {
            return isSame(Double.longBitsToDouble(other.payload[otherRow]), one, row);
        }
        return compare(one, row, other, otherRow) == 0;
    }

    public static int compare(Column one, int row, Column other, int otherRow) {
        byte tag = one.tags[row];
        byte otherTag = other.tags[otherRow];
        if (tag == otherTag) {
            return compareLike(tag, one, row, other, otherRow);
        }
        if (isNumber(tag) && isNumber(otherTag)) {
            return compareNumbers(one, row, other, otherRow);
        }
        return Byte.compare(tag, otherTag);
    }

    private static int compareLike(byte tag, Column one, int row, Column other, int otherRow) {
        long first = one.payload[row];
        long otherFirst = other.payload[otherRow];
        switch (tag) {
            case Tag.NULL:
                return 0;
            case Tag.BOOL:
            case Tag.INT:
            case Tag.DATE:
            case Tag.TIME:
                return Long.compare(first, otherFirst);
            case Tag.DECIMAL:
                return compareDecimals(first, one.second[row], otherFirst, other.second[otherRow]);
            case Tag.BIG:
                return one.decimal(row).compareTo(other.decimal(otherRow));
            case Tag.FLOAT:
            case Tag.DOUBLE:
                return compareDoubles(Double.longBitsToDouble(first), Double.longBitsToDouble(otherFirst));
            case Tag.TIMESTAMP:
            case Tag.INSTANT:
                int seconds = Long.compare(first, otherFirst);
                return seconds != 0 ? seconds : Integer.compare(one.second[row], other.second[otherRow]);
            case Tag.TEXT:
            case Tag.BYTES:
            case Tag.UUID:
                return Arrays.compareUnsigned(
                        one.arena,
                        (int) first,
                        (int) first + one.second[row],
                        other.arena,
                        (int) otherFirst,
                        (int) otherFirst + other.second[otherRow]);
            case Tag.OTHER:
                Value.Other left = (Value.Other) one.object(row);
                Value.Other right = (Value.Other) other.object(otherRow);
                int types = left.type().compareTo(right.type());
                return types != 0 ? types : left.text().compareTo(right.text());
            default:
                throw new IllegalStateException("unknown tag " + tag);
        }
    }

    /**
     * A number that is never larger than that of a later cell: where two of them differ, so do the cells, in this order;
     * where they are equal, {@link #compare} tells.
     */
    public static long prefix(Column column, int row) {
        byte tag = column.tags[row];
        long first = column.payload[row];
        long within = switch (tag) {
            case Tag.BOOL -> first;
            case Tag.INT -> ofDouble(first);
            case Tag.DECIMAL, Tag.BIG -> ofDouble(column.decimal(row).doubleValue());
            case Tag.FLOAT, Tag.DOUBLE -> ofDouble(Double.longBitsToDouble(first));
            case Tag.DATE, Tag.TIME -> clamped(first, PREFIX_BITS);
            case Tag.TIMESTAMP, Tag.INSTANT ->
                clamped(first, PREFIX_BITS - NANO_BITS) << NANO_BITS | column.second[row] >> 30 - NANO_BITS;
            case Tag.TEXT, Tag.BYTES, Tag.UUID -> ofBytes(column.arena, (int) first, column.second[row]);
            default -> 0;
        };
        return (long) (isNumber(tag) ? Tag.INT : tag) << PREFIX_BITS | within;
    }

    private static long ofDouble(double value) {
        // Negative zero is equal to zero.
        long bits = Double.doubleToLongBits(value == 0 ? 0 : value);
        return (bits ^ (bits >> 63 | Long.MIN_VALUE)) >>> 64 - PREFIX_BITS;
    }

    private static long clamped(long value, int bits) {
        long half = 1L << bits - 1;
        return Math.max(-half, Math.min(half - 1, value)) + half;
    }

    private static long ofBytes(byte[] bytes, int from, int length) {
        long prefix = 0;
        for (int i = 0; i < PREFIX_BYTES; i++) {
            prefix = prefix << 8 | (i < length ? bytes[from + i] & 0xFF : 0);
        }
        return prefix;
    }

    private static boolean isNumber(byte tag) {
        return tag >= Tag.INT && tag <= Tag.DOUBLE;
    }

    private static boolean isBinary(byte tag) {
        return tag == Tag.FLOAT || tag == Tag.DOUBLE;
    }

    private static int compareNumbers(Column one, int row, Column other, int otherRow) {
        boolean binary = isBinary(one.tags[row]);
        boolean otherBinary = isBinary(other.tags[otherRow]);
        double value = binary ? Double.longBitsToDouble(one.payload[row]) : 0;
        double otherValue = otherBinary ? Double.longBitsToDouble(other.payload[otherRow]) : 0;
        if (binary && otherBinary) {
            return compareDoubles(value, otherValue);
        }
        if (!Double.isFinite(value)) {
            return value < 0 ? -1 : 1;
        }
        if (!Double.isFinite(otherValue)) {
            return otherValue < 0 ? 1 : -1;
        }
        int order = binary
                ? isShort(other, otherRow) ? compareDoubles(value, rounded(other, otherRow)) : 0
                : otherBinary && isShort(one, row) ? compareDoubles(rounded(one, row), otherValue) : 0;
        // Rounding keeps the order of what it does not make equal.
        return order != 0 ? order : exact(one, row).compareTo(exact(other, otherRow));
    }

    /** Whether a cell holds a number, not a floating one, that one division rounds to the nearest floating value. */
    private static boolean isShort(Column column, int row) {
        byte tag = column.tags[row];
        long digits = column.payload[row];
        return (tag == Tag.INT || tag == Tag.DECIMAL && column.second[row] >= 0 && column.second[row] <= MOST_PLACES)
                && digits <= EXACT
                && digits >= -EXACT;
    }

    private static int places(Column column, int row) {
        return column.tags[row] == Tag.INT ? 0 : column.second[row];
    }

    private static double rounded(Column column, int row) {
        return column.payload[row] / TENS[places(column, row)];
    }

    /** Of decimals, those are floating values whose digits go by the fives of their places. */
    private static boolean isSame(double value, Column column, int row) {
        return value == rounded(column, row) && column.payload[row] % FIVES[places(column, row)] == 0;
    }

    private static BigDecimal exact(Column column, int row) {
        return switch (column.tags[row]) {
            case Tag.INT -> BigDecimal.valueOf(column.payload[row]);
            case Tag.FLOAT, Tag.DOUBLE -> new BigDecimal(Double.longBitsToDouble(column.payload[row]));
            default -> column.decimal(row);
        };
    }

    private static int compareDecimals(long one, int places, long other, int otherPlaces) {
        if (places == otherPlaces) {
            return Long.compare(one, other);
        }
        if (places > otherPlaces) {
            return -compareDecimals(other, otherPlaces, one, places);
        }
        int more = otherPlaces - places;
        if (more <= MOST_PLACES_OF_LONG) {
            long ten = FIVES[more] << more;
            long digits = one * ten;
            if (Math.multiplyHigh(one, ten) == digits >> 63) {
                return Long.compare(digits, other);
            }
        }
        return BigDecimal.valueOf(one, places).compareTo(BigDecimal.valueOf(other, otherPlaces));
    }

    private static int compareDoubles(double one, double other) {
        // Unlike Double.compare: zero equals negative zero.
        return one < other ? -1 : one > other ? 1 : one == other ? 0 : Double.compare(one, other);
    }
}
