package sharptally.formats.value;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.UUID;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.types.TimeText;
import sharptally.core.types.Value;

/**
 * Values in JSON, such that each comes back exactly. NULL, booleans, text, and whole numbers that every JSON reader
 * holds exactly stand for themselves; everything else is an object of one field that names what it is, such as
 * {@code {"decimal": "1.50"}}. The full list is in {@code docs/run-folder.md}.
 */
public final class ValueJson {
    private static final long MAX_PLAIN = 1L << 53;

    private ValueJson() {}

    public static void write(JsonGenerator out, Value value) throws IOException {
        if (value instanceof Value.Null) {
            out.writeNull();
        } else if (value instanceof Value.Bool v) {
            out.writeBoolean(v.value());
        } else if (value instanceof Value.Text v) {
            out.writeString(v.value());
        } else if (value instanceof Value.Int v && Math.abs(v.value()) <= MAX_PLAIN && v.value() != Long.MIN_VALUE) {
            out.writeNumber(v.value());
        } else {
            out.writeStartObject();
            writeTagged(out, value);
            out.writeEndObject();
        }
    }

    private static void writeTagged(JsonGenerator out, Value value) throws IOException {
        if (value instanceof Value.Int) {
            out.writeStringField("integer", value.toString());
        } else if (value instanceof Value.Decimal v) {
            out.writeStringField("decimal", v.value().toString());
        } else if (value instanceof Value.Real) {
            out.writeStringField("float", value.toString());
        } else if (value instanceof Value.Double) {
            out.writeStringField("double", value.toString());
        } else if (value instanceof Value.Bytes v) {
            out.writeBinaryField("bytes", v.value());
        } else if (value instanceof Value.BrokenText v) {
            out.writeBinaryField("broken-text", v.bytes());
        } else if (value instanceof Value.Date) {
            out.writeStringField("date", value.toString());
        } else if (value instanceof Value.Time) {
            out.writeStringField("time", value.toString());
        } else if (value instanceof Value.Timestamp) {
            out.writeStringField("timestamp", value.toString());
        } else if (value instanceof Value.Instant v) {
            out.writeStringField("instant", v.value().toString());
        } else if (value instanceof Value.Uuid) {
            out.writeStringField("uuid", value.toString());
        } else if (value instanceof Value.Other v) {
            out.writeStringField("type", v.type());
            out.writeStringField("text", v.text());
        } else {
            throw new IllegalStateException("no JSON form for " + value.getClass());
        }
    }

    /**
     * @throws ToolException when the JSON is not one of the forms that {@link #write} makes
     */
    public static Value read(JsonNode node) {
        try (JsonParser in = node.traverse()) {
            in.nextToken();
            return read(in);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * Reads the value that the parser stands on, and leaves it on the value's last token.
     *
     * @throws ToolException when the JSON is not one of the forms that {@link #write} makes
     */
    public static Value read(JsonParser in) throws IOException {
        return switch (in.currentToken()) {
            case VALUE_NULL -> Value.NULL;
            case VALUE_TRUE -> new Value.Bool(true);
            case VALUE_FALSE -> new Value.Bool(false);
            case VALUE_STRING -> new Value.Text(in.getText());
            case VALUE_NUMBER_INT -> new Value.Int(in.getLongValue());
            case START_OBJECT -> readObject(in);
            default -> throw unreadable("a JSON " + in.currentToken(), null);
        };
    }

    private static Value readObject(JsonParser in) throws IOException {
        String tag = in.nextFieldName();
        if (tag == null || in.nextToken() != JsonToken.VALUE_STRING) {
            throw unreadable("a JSON object of another kind", null);
        }
        Value value;
        if (tag.equals("bytes")) {
            value = new Value.Bytes(in.getBinaryValue());
        } else if (tag.equals("broken-text")) {
            value = new Value.BrokenText(in.getBinaryValue());
        } else if (tag.equals("type")) {
            String type = in.getText();
            if (!"text".equals(in.nextFieldName())) {
                throw unreadable("a type without a text", null);
            }
            in.nextToken();
            value = new Value.Other(type, in.getText());
        } else {
            try {
                value = readTagged(tag, in.getText());
            } catch (RuntimeException e) {
                throw unreadable("a JSON object '" + tag + "'", e);
            }
        }
        if (in.nextToken() != JsonToken.END_OBJECT) {
            throw unreadable("a JSON object with more than a value", null);
        }
        return value;
    }

    private static Value readTagged(String tag, String text) {
        return switch (tag) {
            case "integer" -> new Value.Int(Long.parseLong(text));
            case "decimal" -> new Value.Decimal(new BigDecimal(text));
            case "float" -> new Value.Real(Float.parseFloat(text));
            case "double" -> new Value.Double(Double.parseDouble(text));
            case "date" -> new Value.Date(LocalDate.parse(text));
            case "time" -> new Value.Time(TimeText.readTime(text).orElseThrow());
            case "timestamp" -> new Value.Timestamp(TimeText.readTimestamp(text).orElseThrow());
            case "instant" -> new Value.Instant(Instant.parse(text));
            case "uuid" -> new Value.Uuid(UUID.fromString(text));
            default -> throw new IllegalArgumentException(tag);
        };
    }

    private static ToolException unreadable(String what, @org.jspecify.annotations.Nullable Throwable cause) {
        return new ToolException(
                ErrorKind.JOB_FILE,
                "not a value of a findings file",
                what,
                "compare again; the file was changed",
                cause);
    }
}
