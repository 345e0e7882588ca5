package sharptally.engines.jdbc;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.HexFormat;
import java.util.UUID;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * Writes values as literals that an engine reads back as exactly these values in a column. What is written here is the
 * standard's form; an engine that reads it otherwise writes its own. Immutable.
 */
public abstract class Literals {
    /** NULL too. */
    public final String of(Value value, ColumnShape column) {
        if (value instanceof Value.Null) {
            return "NULL";
        } else if (value instanceof Value.Bool v) {
            return truth(v.value());
        } else if (value instanceof Value.Int v) {
            return whole(v.value());
        } else if (value instanceof Value.Decimal v) {
            return decimal(v.value(), column);
        } else if (value instanceof Value.Real v) {
            return real(v);
        } else if (value instanceof Value.Double v) {
            return floating(v, column);
        } else if (value instanceof Value.Text v) {
            return text(v.value(), column);
        } else if (value instanceof Value.BrokenText v) {
            return brokenText(v.bytes());
        } else if (value instanceof Value.Bytes v) {
            return bytes(v.value());
        } else if (value instanceof Value.Date v) {
            return date(day(v.value(), v.toString()));
        } else if (value instanceof Value.Time v) {
            return time(v.toString(), column);
        } else if (value instanceof Value.Timestamp v) {
            return timestamp(day(v.value().toLocalDate(), v.toString()), column);
        } else if (value instanceof Value.Instant v) {
            return instant(day(LocalDate.ofInstant(v.value(), ZoneOffset.UTC), inUtc(v.value())));
        } else if (value instanceof Value.Uuid v) {
            return uuid(v.value());
        }
        return other((Value.Other) value, column);
    }

    private static String inUtc(Instant instant) {
        return TimeText.timestamp(LocalDateTime.ofInstant(instant, ZoneOffset.UTC));
    }

    protected String truth(boolean value) {
        return value ? "TRUE" : "FALSE";
    }

    protected String whole(long value) {
        return Long.toString(value);
    }

    protected String decimal(BigDecimal value, ColumnShape column) {
        return value.toPlainString();
    }

    protected abstract String real(Value.Real value);

    protected abstract String floating(Value.Double value, ColumnShape column);

    /** A text as that column takes it. */
    protected String text(String text, ColumnShape column) {
        return text(text);
    }

    /** On one line, whatever the text: a statement stays on its line. */
    protected abstract String text(String text);

    /** Bytes that are no valid text, as far as the engine takes them. */
    protected String brokenText(byte[] bytes) {
        return text(new String(bytes, StandardCharsets.UTF_8));
    }

    protected String bytes(byte[] value) {
        return "X'" + HexFormat.of().formatHex(value) + "'";
    }

    /**
     * How a date is told from which a text begins.
     *
     * @param text as ISO 8601 has it: years before the common era count from zero downwards, those past 9999 have a sign
     */
    protected String day(LocalDate date, String text) {
        return text;
    }

    protected String date(String text) {
        return "DATE '" + text + "'";
    }

    protected String time(String text, ColumnShape column) {
        return "TIME '" + text + "'";
    }

    protected String timestamp(String text, ColumnShape column) {
        return "TIMESTAMP '" + text + "'";
    }

    /**
     * @param text in UTC, which it does not say
     */
    protected abstract String instant(String text);

    protected String uuid(UUID value) {
        return "'" + value + "'";
    }

    /** A value of the engine's own type. */
    protected abstract String other(Value.Other value, ColumnShape column);
}
