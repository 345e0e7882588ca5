package sharptally.formats.value;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.util.TokenBuffer;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/** Findings of one match as JSON objects, values under the names of their columns. */
public final class FindingJson {
    private static final ObjectMapper MAPPER = new ObjectMapper();

    private final List<String> keyNames;
    private final List<String> pairNames;
    private final List<String> sourceNames;
    private final List<String> targetNames;
    private final Map<String, Integer> pairPlaces;

    public FindingJson(TableMatch match) {
        keyNames = match.keyPairs().stream().map(ColumnPair::name).toList();
        pairNames = match.pairs().stream().map(ColumnPair::name).toList();
        sourceNames = match.sourceColumns().stream().map(ColumnShape::name).toList();
        targetNames = match.targetColumns().stream().map(ColumnShape::name).toList();
        pairPlaces = IntStream.range(0, pairNames.size()).boxed().collect(Collectors.toMap(pairNames::get, i -> i));
    }

    /** Writes one object. */
    public void write(JsonGenerator out, Finding finding) throws IOException {
        out.writeStartObject();
        writeFields(out, finding);
        out.writeEndObject();
    }

    /** Writes the fields alone, for objects that have others besides. */
    public void writeFields(JsonGenerator out, Finding finding) throws IOException {
        out.writeStringField("kind", finding.kind().word());
        if (!finding.key().isEmpty()) {
            writeNamed(out, "key", keyNames, finding.key());
        }
        if (finding instanceof Finding.Missing missing) {
            writeNamed(out, "row", sourceNames, missing.row());
            writeTimes(out, missing.times(), missing.among());
        } else if (finding instanceof Finding.Extra extra) {
            writeNamed(out, "row", targetNames, extra.row());
            writeTimes(out, extra.times(), extra.among());
        } else if (finding instanceof Finding.Repeated repeated) {
            out.writeNumberField("in-source", repeated.inSource());
            out.writeNumberField("in-target", repeated.inTarget());
        } else if (finding instanceof Finding.Changed changed) {
            if (!changed.targetKey().equals(changed.key())) {
                writeNamed(out, "target-key", keyNames, changed.targetKey());
            }
            out.writeObjectFieldStart("differs");
            for (Difference difference : changed.differences()) {
                out.writeObjectFieldStart(pairNames.get(difference.pair()));
                out.writeFieldName("source");
                ValueJson.write(out, difference.source());
                out.writeFieldName("target");
                ValueJson.write(out, difference.target());
                out.writeEndObject();
            }
            out.writeEndObject();
        }
    }

    private static void writeTimes(JsonGenerator out, long times, boolean among) throws IOException {
        if (times != 1) {
            out.writeNumberField("times", times);
        }
        if (among) {
            out.writeBooleanField("among", true);
        }
    }

    private static void writeNamed(JsonGenerator out, String field, List<String> names, List<Value> values)
            throws IOException {
        out.writeObjectFieldStart(field);
        for (int i = 0; i < values.size(); i++) {
            out.writeFieldName(names.get(i));
            ValueJson.write(out, values.get(i));
        }
        out.writeEndObject();
    }

    /** What tells the finding from all others of its match: its key, or where there is none its row. */
    public JsonNode identity(Finding finding) {
        try (TokenBuffer out = new TokenBuffer(MAPPER, false)) {
            out.writeStartObject();
            if (!keyNames.isEmpty()) {
                writeNamed(out, "is", keyNames, finding.key());
            } else if (finding instanceof Finding.Missing missing) {
                writeNamed(out, "is", sourceNames, missing.row());
            } else {
                writeNamed(out, "is", targetNames, ((Finding.Extra) finding).row());
            }
            out.writeEndObject();
            return MAPPER.<JsonNode>readTree(out.asParser()).get("is");
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /**
     * @throws ToolException when the object is not a finding of this match
     */
    public Finding read(JsonNode node) {
        String kind = node.path("kind").asText();
        List<Value> key = keyNames.isEmpty() ? List.of() : values(node.path("key"), keyNames);
        long times = node.path("times").asLong(1);
        boolean among = node.path("among").asBoolean(false);
        return switch (kind) {
            case "missing" -> new Finding.Missing(key, values(node.path("row"), sourceNames), times, among);
            case "extra" -> new Finding.Extra(key, values(node.path("row"), targetNames), times, among);
            case "repeated" ->
                new Finding.Repeated(
                        key,
                        node.path("in-source").asLong(),
                        node.path("in-target").asLong());
            case "changed" ->
                new Finding.Changed(
                        key,
                        node.has("target-key") ? values(node.get("target-key"), keyNames) : key,
                        differences(node.path("differs")));
            default -> throw notOurs("kind '" + kind + "'");
        };
    }

    private static List<Value> values(JsonNode object, List<String> names) {
        List<Value> values = new ArrayList<>(names.size());
        for (String name : names) {
            JsonNode value = object.get(name);
            if (value == null) {
                throw notOurs("no value for column " + name);
            }
            values.add(ValueJson.read(value));
        }
        return values;
    }

    private List<Difference> differences(JsonNode object) {
        List<Difference> differences = new ArrayList<>();
        object.properties().forEach(field -> {
            Integer pair = pairPlaces.get(field.getKey());
            if (pair == null
                    || !field.getValue().has("source")
                    || !field.getValue().has("target")) {
                throw notOurs("column " + field.getKey());
            }
            differences.add(new Difference(
                    pair,
                    ValueJson.read(field.getValue().get("source")),
                    ValueJson.read(field.getValue().get("target"))));
        });
        return differences;
    }

    private static ToolException notOurs(String what) {
        return new ToolException(
                ErrorKind.SHEET, "not a finding of this match", what, "compare again; the file was changed");
    }
}
