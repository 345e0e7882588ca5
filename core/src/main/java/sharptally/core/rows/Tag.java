package sharptally.core.rows;

/** What one cell of a {@link Column} holds, and so how its payload is read. */
final class Tag {
    static final byte NULL = 0;
    /** Payload: 0 or 1. */
    static final byte BOOL = 1;
    /** Payload: the number. */
    static final byte INT = 2;
    /** Payload: unscaled value, and scale in the second part. */
    static final byte DECIMAL = 3;
    /** Payload: index of a BigDecimal that does not fit {@link #DECIMAL}. */
    static final byte BIG = 4;
    /** Payload: raw bits of the value widened to a double. */
    static final byte FLOAT = 5;
    /** Payload: raw bits. */
    static final byte DOUBLE = 6;
    /** Payload: days since 1970-01-01. */
    static final byte DATE = 7;
    /** Payload: nanoseconds since midnight. */
    static final byte TIME = 8;
    /** Payload: seconds since 1970-01-01 as if in UTC, nanoseconds in the second part. */
    static final byte TIMESTAMP = 9;
    /** Payload: as {@link #TIMESTAMP}, in UTC. */
    static final byte INSTANT = 10;
    /** Payload: slice of UTF-8 (or, when broken, other) bytes. */
    static final byte TEXT = 11;
    /** Payload: slice. */
    static final byte BYTES = 12;
    /** Payload: slice of 16 bytes, most significant first. */
    static final byte UUID = 13;
    /** Payload: index of a {@code Value.Other}. */
    static final byte OTHER = 14;

    private Tag() {}

    static boolean isSlice(byte tag) {
        return tag == TEXT || tag == BYTES || tag == UUID;
    }
}
