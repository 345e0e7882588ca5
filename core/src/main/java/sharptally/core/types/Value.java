package sharptally.core.types;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.UUID;

/**
 * One value of one row, exactly as its side holds it. SQL NULL is {@link Null}, never a Java null.
 * Equality is identity of content within one case (1.0 and 1.00 are different decimals here);
 * whether two values are held equal in a comparison is decided by {@code rows.CellOrder}.
 */
public sealed interface Value {
    Null NULL = new Null();

    /**
     * The value to be shown beside the one that it was compared with: one of 32 bits as the 64 bits that were compared, as
     * its own few digits (0.9) may be those of the other, from which it differs.
     */
    default Value beside(Value other) {
        return this instanceof Real real && other instanceof Double ? new Double(real.value()) : this;
    }

    /** SQL NULL. */
    record Null() implements Value {
        @Override
        public String toString() {
            return "NULL";
        }
    }

    record Bool(boolean value) implements Value {
        @Override
        public String toString() {
            return Boolean.toString(value);
        }
    }

    /** A whole number that fits 64 bits signed. */
    record Int(long value) implements Value {
        @Override
        public String toString() {
            return Long.toString(value);
        }
    }

    record Decimal(BigDecimal value) implements Value {
        @Override
        public String toString() {
            return value.toPlainString();
        }
    }

    /** Binary floating point, 32 bits. */
    record Real(float value) implements Value {
        @Override
        public String toString() {
            return ShortestDecimal.text(value);
        }
    }

    /** Binary floating point, 64 bits. */
    record Double(double value) implements Value {
        @Override
        public String toString() {
            return ShortestDecimal.text(value);
        }
    }

    record Text(String value) implements Value {
        @Override
        public String toString() {
            return value;
        }
    }

    /** Text whose bytes are not valid UTF-8; kept as the bytes that were read. */
    record BrokenText(byte[] bytes) implements Value {
        @Override
        public boolean equals(Object other) {
            return other instanceof BrokenText text && Arrays.equals(bytes, text.bytes);
        }

        @Override
        public int hashCode() {
            return Arrays.hashCode(bytes);
        }

        @Override
        public String toString() {
            return "broken text x'" + HexFormat.of().formatHex(bytes) + "'";
        }
    }

    record Bytes(byte[] value) implements Value {
        @Override
        public boolean equals(Object other) {
            return other instanceof Bytes bytes && Arrays.equals(value, bytes.value);
        }

        @Override
        public int hashCode() {
            return Arrays.hashCode(value);
        }

        @Override
        public String toString() {
            return "x'" + HexFormat.of().formatHex(value) + "'";
        }
    }

    record Date(LocalDate value) implements Value {
        @Override
        public String toString() {
            return value.toString();
        }
    }

    /** Time of day in nanoseconds since midnight; engines that go past a day or below zero keep that. */
    record Time(long nanos) implements Value {
        @Override
        public String toString() {
            return TimeText.time(nanos);
        }
    }

    record Timestamp(LocalDateTime value) implements Value {
        @Override
        public String toString() {
            return TimeText.timestamp(value);
        }
    }

    record Instant(java.time.Instant value) implements Value {
        @Override
        public String toString() {
            return TimeText.timestamp(LocalDateTime.ofInstant(value, java.time.ZoneOffset.UTC)) + "Z";
        }
    }

    record Uuid(UUID value) implements Value {
        @Override
        public String toString() {
            return value.toString();
        }
    }

    /** A value of an engine's own type, in the engine's own text form. */
    record Other(String type, String text) implements Value {
        @Override
        public String toString() {
            return text;
        }
    }
}
