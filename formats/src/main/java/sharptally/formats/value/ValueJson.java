package sharptally.formats.value;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Base64;
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
            out.writeStringField("bytes", Base64.getEncoder().encodeToString(v.value()));
        } else if (value instanceof Value.BrokenText v) {
            out.writeStringField("broken-text", Base64.getEncoder().encodeToString(v.bytes()));
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
        if (node.isNull()) {
            return Value.NULL;
        } else if (node.isBoolean()) {
            return new Value.Bool(node.booleanValue());
        } else if (node.isTextual()) {
            return new Value.Text(node.textValue());
        } else if (node.isIntegralNumber() && node.canConvertToLong()) {
            return new Value.Int(node.longValue());
        } else if (node.isObject() && node.has("type") && node.has("text")) {
            return new Value.Other(node.get("type").asText(), node.get("text").asText());
        } else if (node.isObject() && node.size() == 1) {
            String tag = node.properties().iterator().next().getKey();
            try {
                return readTagged(tag, node.get(tag).asText());
            } catch (RuntimeException e) {
                throw unreadable(node, e);
            }
        }
        throw unreadable(node, null);
    }

    private static Value readTagged(String tag, String text) {
        return switch (tag) {
            case "integer" -> new Value.Int(Long.parseLong(text));
            case "decimal" -> new Value.Decimal(new BigDecimal(text));
            case "float" -> new Value.Real(Float.parseFloat(text));
            case "double" -> new Value.Double(Double.parseDouble(text));
            case "bytes" -> new Value.Bytes(Base64.getDecoder().decode(text));
            case "broken-text" -> new Value.BrokenText(Base64.getDecoder().decode(text));
            case "date" -> new Value.Date(LocalDate.parse(text));
            case "time" -> new Value.Time(TimeText.readTime(text).orElseThrow());
            case "timestamp" -> new Value.Timestamp(TimeText.readTimestamp(text).orElseThrow());
            case "instant" -> new Value.Instant(Instant.parse(text));
            case "uuid" -> new Value.Uuid(UUID.fromString(text));
            default -> throw new IllegalArgumentException(tag);
        };
    }

    private static ToolException unreadable(JsonNode node, @org.jspecify.annotations.Nullable Throwable cause) {
        return new ToolException(
                ErrorKind.SHEET,
                "not a value of a findings file",
                "a JSON " + node.getNodeType().toString().toLowerCase(java.util.Locale.ROOT),
                "compare again; the file was changed",
                cause);
    }
}
