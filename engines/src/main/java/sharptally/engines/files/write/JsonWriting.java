package sharptally.engines.files.write;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.Charset;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import sharptally.engines.files.text.FileProblem;

/**
 * An object for each record, on a line of its own.
 *
 * @param names of the members
 */
public record JsonWriting(Path file, Charset charset, List<String> names) implements Writing {
    private static final JsonFactory FACTORY = new JsonFactory();
    /** Text that a JSON number can be as it stands, and then reads back as the same. */
    private static final Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d*)(\\.\\d+)?");

    @Override
    public String record(List<Optional<String>> fields) {
        StringWriter text = new StringWriter();
        try (JsonGenerator out = FACTORY.createGenerator(text)) {
            out.writeStartObject();
            for (int i = 0; i < fields.size(); i++) {
                if (fields.get(i).isPresent()) {
                    out.writeFieldName(names.get(i));
                    value(out, fields.get(i), JsonToken.VALUE_NUMBER_FLOAT);
                }
            }
            out.writeEndObject();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return text.toString();
    }

    /** A value as its likes were written: what stood in quotes does so again. */
    private static void value(JsonGenerator out, Optional<String> value, JsonToken before) throws IOException {
        if (value.isEmpty()) {
            out.writeNull();
        } else if (before != JsonToken.VALUE_STRING
                && NUMBER.matcher(value.get()).matches()) {
            out.writeNumber(value.get());
        } else if (before != JsonToken.VALUE_STRING && value.get().matches("true|false")) {
            out.writeBoolean(value.get().equals("true"));
        } else {
            out.writeString(value.get());
        }
    }

    @Override
    public String changed(String raw, List<Optional<String>> fields, Set<Integer> changed) {
        StringWriter text = new StringWriter();
        Set<Integer> left = new TreeSet<>(changed);
        try (JsonParser in = FACTORY.createParser(raw);
                JsonGenerator out = FACTORY.createGenerator(text)) {
            if (in.nextToken() != JsonToken.START_OBJECT) {
                throw shared();
            }
            out.writeStartObject();
            for (String name = in.nextFieldName(); name != null; name = in.nextFieldName()) {
                JsonToken before = in.nextToken();
                out.writeFieldName(name);
                int place = names.indexOf(name);
                if (left.remove(place)) {
                    value(out, fields.get(place), before);
                    in.skipChildren();
                } else {
                    out.copyCurrentStructure(in);
                }
            }
            if (in.nextToken() != null) {
                throw shared();
            }
            for (int place : left) {
                out.writeFieldName(names.get(place));
                value(out, fields.get(place), JsonToken.VALUE_NUMBER_FLOAT);
            }
            out.writeEndObject();
        } catch (IOException e) {
            throw shared();
        }
        return text.toString();
    }

    private sharptally.core.fault.ToolException shared() {
        return FileProblem.of(
                file,
                "objects share lines with each other, or with the brackets of an array: it can't be rewritten",
                "write each object on a line of its own");
    }
}
