package sharptally.core.rows;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import sharptally.core.types.Value;

/**
 * The cells of one column in one batch of rows, held in primitive arrays so that millions of values pass without an
 * object each. A cell carries its own tag, because some engines let every value of a column be of another type.
 *
 * <p>Layout: a tag byte, a 64-bit payload and a 32-bit second part per cell; text and bytes lie end to end in one
 * arena, the payload being the offset and the second part the length. Cells are only appended. Not safe for use by
 * several threads while it is being filled; afterwards it may be read by any.
 */
public final class Column {
    private static final BigInteger LONG_MIN = BigInteger.valueOf(Long.MIN_VALUE);
    private static final BigInteger LONG_MAX = BigInteger.valueOf(Long.MAX_VALUE);
    private static final int MAX_SMALL_SCALE = 1000;
    /** So many digits are a number of 64 bits, whatever they are. */
    private static final int MAX_SMALL_DIGITS = 18;

    private static final int LARGE = 4 << 20;

    byte[] tags;
    long[] payload;
    int[] second;
    byte[] arena = new byte[0];
    private int arenaSize;
    private Object[] objects = new Object[0];
    private int objectCount;
    private int size;

    public Column(int expectedRows) {
        int capacity = Math.max(4, expectedRows);
        tags = new byte[capacity];
        payload = new long[capacity];
        second = new int[capacity];
    }

    /** Number of cells. */
    public int size() {
        return size;
    }

    /** Bytes held by text and byte cells. */
    public int arenaSize() {
        return arenaSize;
    }

    private int next(byte tag, long first) {
        return next(tag, first, 0);
    }

    private int next(byte tag, long first, int secondPart) {
        if (size == tags.length) {
            int capacity = size * 2;
            tags = Arrays.copyOf(tags, capacity);
            payload = Arrays.copyOf(payload, capacity);
            second = Arrays.copyOf(second, capacity);
        }
        tags[size] = tag;
        payload[size] = first;
        second[size] = secondPart;
        return size++;
    }

    public void addNull() {
        next(Tag.NULL, 0);
    }

    public void addBoolean(boolean value) {
        next(Tag.BOOL, value ? 1 : 0);
    }

    public void addInt(long value) {
        next(Tag.INT, value);
    }

    /** Keeps the scale as given. */
    public void addDecimal(BigDecimal value) {
        BigInteger unscaled = value.unscaledValue();
        if (unscaled.compareTo(LONG_MIN) >= 0
                && unscaled.compareTo(LONG_MAX) <= 0
                && Math.abs(value.scale()) <= MAX_SMALL_SCALE) {
            addDecimal(unscaled.longValue(), value.scale());
        } else {
            next(Tag.BIG, addObject(value));
        }
    }

    /** By its plain writing, such as {@code -12.500}, or one with an exponent. */
    public void addDecimal(String text) {
        int length = text.length();
        boolean negative = length > 0 && text.charAt(0) == '-';
        long unscaled = 0;
        int scale = -1;
        int digits = 0;
        for (int i = negative ? 1 : 0; i < length; i++) {
            char c = text.charAt(i);
            if (c >= '0' && c <= '9' && ++digits <= MAX_SMALL_DIGITS) {
                unscaled = unscaled * 10 + c - '0';
            } else if (c == '.' && scale < 0) {
                scale = length - i - 1;
            } else {
                addDecimal(new BigDecimal(text));
                return;
            }
        }
        if (digits == 0) {
            addDecimal(new BigDecimal(text));
            return;
        }
        addDecimal(negative ? -unscaled : unscaled, Math.max(0, scale));
    }

    /** {@code unscaled * 10^-scale}. */
    public void addDecimal(long unscaled, int scale) {
        next(Tag.DECIMAL, unscaled, scale);
    }

    public void addFloat(float value) {
        next(Tag.FLOAT, Double.doubleToRawLongBits(value));
    }

    public void addDouble(double value) {
        next(Tag.DOUBLE, Double.doubleToRawLongBits(value));
    }

    /** Days since 1970-01-01. */
    public void addDate(long epochDay) {
        next(Tag.DATE, epochDay);
    }

    /** Nanoseconds since midnight. */
    public void addTime(long nanos) {
        next(Tag.TIME, nanos);
    }

    /** Seconds since 1970-01-01 as if in UTC. */
    public void addTimestamp(long epochSecond, int nanos) {
        next(Tag.TIMESTAMP, epochSecond, nanos);
    }

    public void addTimestamp(LocalDateTime value) {
        addTimestamp(value.toEpochSecond(ZoneOffset.UTC), value.getNano());
    }

    /** Seconds since 1970-01-01 in UTC. */
    public void addInstant(long epochSecond, int nanos) {
        next(Tag.INSTANT, epochSecond, nanos);
    }

    /** Bytes that the engine holds as text in UTF-8, and that nobody changes afterwards. */
    public void addText(byte[] bytes, int from, int length) {
        addSlice(Tag.TEXT, bytes, from, length);
    }

    /** Bytes of text in UTF-8 that may be changed afterwards. */
    public void addTextCopied(byte[] bytes, int from, int length) {
        if (length >= LARGE) {
            addSlice(Tag.TEXT, Arrays.copyOfRange(bytes, from, from + length), 0, length);
        } else {
            addSlice(Tag.TEXT, bytes, from, length);
        }
    }

    /** Keeps unpaired surrogates (as three bytes each), which plain UTF-8 encoding would turn into question marks. */
    public void addText(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        if (hasUnpairedSurrogate(text)) {
            bytes = withSurrogates(text);
        }
        addSlice(Tag.TEXT, bytes, 0, bytes.length);
    }

    public void addBytes(byte[] bytes) {
        addSlice(Tag.BYTES, bytes, 0, bytes.length);
    }

    /** Bytes that nobody changes afterwards, as a large value is not copied. */
    public void addBytes(byte[] bytes, int from, int length) {
        addSlice(Tag.BYTES, bytes, from, length);
    }

    public void addUuid(long mostSignificant, long leastSignificant) {
        byte[] bytes = ByteBuffer.allocate(16)
                .putLong(mostSignificant)
                .putLong(leastSignificant)
                .array();
        addSlice(Tag.UUID, bytes, 0, 16);
    }

    /** Appends any value; {@link #value} gives back an equal one. */
    public void add(Value value) {
        if (value instanceof Value.Null) {
            addNull();
        } else if (value instanceof Value.Bool v) {
            addBoolean(v.value());
        } else if (value instanceof Value.Int v) {
            addInt(v.value());
        } else if (value instanceof Value.Decimal v) {
            addDecimal(v.value());
        } else if (value instanceof Value.Real v) {
            addFloat(v.value());
        } else if (value instanceof Value.Double v) {
            addDouble(v.value());
        } else if (value instanceof Value.Text v) {
            addText(v.value());
        } else if (value instanceof Value.BrokenText v) {
            addText(v.bytes(), 0, v.bytes().length);
        } else if (value instanceof Value.Bytes v) {
            addBytes(v.value());
        } else if (value instanceof Value.Date v) {
            addDate(v.value().toEpochDay());
        } else if (value instanceof Value.Time v) {
            addTime(v.nanos());
        } else if (value instanceof Value.Timestamp v) {
            addTimestamp(v.value());
        } else if (value instanceof Value.Instant v) {
            addInstant(v.value().getEpochSecond(), v.value().getNano());
        } else if (value instanceof Value.Uuid v) {
            addUuid(v.value().getMostSignificantBits(), v.value().getLeastSignificantBits());
        } else if (value instanceof Value.Other v) {
            next(Tag.OTHER, addObject(v));
        } else {
            throw new IllegalStateException("no cell form for " + value.getClass());
        }
    }

    /** Appends a copy of one cell of another column. */
    public void addCellOf(Column from, int row) {
        byte tag = from.tags[row];
        if (Tag.isSlice(tag)) {
            addSlice(tag, from.arena, (int) from.payload[row], from.second[row]);
        } else if (tag == Tag.BIG || tag == Tag.OTHER) {
            next(tag, addObject(from.object(row)));
        } else {
            addPlain(tag, from.payload[row], from.second[row]);
        }
    }

    /** Appends a cell that is neither a slice nor an object. */
    void addPlain(byte tag, long first, int secondPart) {
        next(tag, first, secondPart);
    }

    void addSlice(byte tag, byte[] bytes, int from, int length) {
        if (length >= LARGE && arenaSize == 0) {
            // Taken over as it is: a large value is held once, not once here and once in what it came in.
            arena = bytes;
            arenaSize = bytes.length;
            next(tag, from, length);
            return;
        }
        int needed = Math.addExact(arenaSize, length);
        if (needed > arena.length) {
            // Doubling stops at 64 MB, so that one large value is not held much more than once.
            int grown = arena.length + Math.min(Math.max(arena.length, 256), 1 << 26);
            arena = Arrays.copyOf(arena, Math.max(needed, grown));
        }
        System.arraycopy(bytes, from, arena, arenaSize, length);
        next(tag, arenaSize, length);
        arenaSize = needed;
    }

    private int addObject(Object object) {
        if (objectCount == objects.length) {
            objects = Arrays.copyOf(objects, Math.max(16, objectCount * 2));
        }
        objects[objectCount] = object;
        return objectCount++;
    }

    Object object(int row) {
        return objects[(int) payload[row]];
    }

    public boolean isNull(int row) {
        return tags[row] == Tag.NULL;
    }

    /** The cell as a value of its own. */
    public Value value(int row) {
        long first = payload[row];
        return switch (tags[row]) {
            case Tag.NULL -> Value.NULL;
            case Tag.BOOL -> new Value.Bool(first != 0);
            case Tag.INT -> new Value.Int(first);
            case Tag.DECIMAL, Tag.BIG -> new Value.Decimal(decimal(row));
            case Tag.FLOAT -> new Value.Real((float) Double.longBitsToDouble(first));
            case Tag.DOUBLE -> new Value.Double(Double.longBitsToDouble(first));
            case Tag.DATE -> new Value.Date(LocalDate.ofEpochDay(first));
            case Tag.TIME -> new Value.Time(first);
            case Tag.TIMESTAMP -> new Value.Timestamp(LocalDateTime.ofEpochSecond(first, second[row], ZoneOffset.UTC));
            case Tag.INSTANT -> new Value.Instant(Instant.ofEpochSecond(first, second[row]));
            case Tag.TEXT -> textValue(row);
            case Tag.BYTES -> new Value.Bytes(bytes(row));
            case Tag.UUID -> {
                ByteBuffer bytes = ByteBuffer.wrap(arena, (int) first, 16);
                yield new Value.Uuid(new java.util.UUID(bytes.getLong(), bytes.getLong()));
            }
            case Tag.OTHER -> (Value.Other) object(row);
            default -> throw new IllegalStateException("unknown tag " + tags[row]);
        };
    }

    private byte[] bytes(int row) {
        int from = (int) payload[row];
        return from == 0 && second[row] == arena.length ? arena : Arrays.copyOfRange(arena, from, from + second[row]);
    }

    BigDecimal decimal(int row) {
        return tags[row] == Tag.BIG ? (BigDecimal) object(row) : BigDecimal.valueOf(payload[row], second[row]);
    }

    /** The text of a text cell, broken bytes replaced. */
    public String text(int row) {
        return new String(arena, (int) payload[row], second[row], StandardCharsets.UTF_8);
    }

    private Value textValue(int row) {
        int from = (int) payload[row];
        ByteBuffer bytes = ByteBuffer.wrap(arena, from, second[row]);
        try {
            CharBuffer decoded = StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT)
                    .decode(bytes);
            return new Value.Text(decoded.toString());
        } catch (CharacterCodingException e) {
            return new Value.BrokenText(bytes(row));
        }
    }

    private static boolean hasUnpairedSurrogate(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (Character.isSurrogate(text.charAt(i))) {
                return text.codePoints().anyMatch(Column::isSurrogate);
            }
        }
        return false;
    }

    private static boolean isSurrogate(int codePoint) {
        return codePoint >= Character.MIN_SURROGATE && codePoint <= Character.MAX_SURROGATE;
    }

    private static byte[] withSurrogates(String text) {
        ByteBuffer out = ByteBuffer.allocate(text.length() * 4);
        text.codePoints().forEach(c -> {
            if (isSurrogate(c)) {
                out.put((byte) (0xE0 | c >> 12))
                        .put((byte) (0x80 | c >> 6 & 0x3F))
                        .put((byte) (0x80 | c & 0x3F));
            } else {
                out.put(Character.toString(c).getBytes(StandardCharsets.UTF_8));
            }
        });
        return Arrays.copyOf(out.array(), out.position());
    }
}
