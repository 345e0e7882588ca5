package sharptally.formats.value;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.util.TokenBuffer;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.Positions;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/** Findings of one match as JSON objects, values under the names of their columns. */
public final class FindingJson {
    private static final ObjectMapper MAPPER = new ObjectMapper();
    private static final List<String> SIDES = List.of("source", "target");

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

    /** Writes one object with all that is known of the row. */
    public void write(JsonGenerator out, Finding finding) throws IOException {
        out.writeStartObject();
        writeFields(out, finding);
        if (finding instanceof Finding.Changed changed && !changed.same().isEmpty()) {
            writeSame(out, changed.same());
        }
        out.writeEndObject();
    }

    /** What the target holds, and what the source does where that is another form of the same. */
    private void writeSame(JsonGenerator out, List<Difference> same) throws IOException {
        out.writeObjectFieldStart("same");
        boolean alike = true;
        for (Difference each : same) {
            out.writeFieldName(pairNames.get(each.pair()));
            ValueJson.write(out, each.target());
            alike = alike && each.source().equals(each.target());
        }
        out.writeEndObject();
        if (!alike) {
            out.writeObjectFieldStart("same-in-source");
            for (Difference each : same) {
                if (!each.source().equals(each.target())) {
                    out.writeFieldName(pairNames.get(each.pair()));
                    ValueJson.write(out, each.source());
                }
            }
            out.writeEndObject();
        }
    }

    /**
     * Writes the fields alone, for objects that have others besides; of a changed row, what differs and not what is the
     * same.
     */
    public void writeFields(JsonGenerator out, Finding finding) throws IOException {
        out.writeStringField("kind", finding.kind().word());
        if (!finding.key().isEmpty()) {
            writeNamed(out, "key", keyNames, finding.key());
        }
        if (!finding.positions().equals(Positions.UNKNOWN)) {
            writePositions(out, finding.positions());
        }
        if (finding instanceof Finding.Missing missing) {
            writeNamed(out, "row", sourceNames, missing.row());
            writeTimes(out, missing.times(), missing.among(), missing.both());
        } else if (finding instanceof Finding.Extra extra) {
            writeNamed(out, "row", targetNames, extra.row());
            writeTimes(out, extra.times(), extra.among(), extra.both());
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

    private static void writePositions(JsonGenerator out, Positions positions) throws IOException {
        out.writeObjectFieldStart("at");
        if (positions.source().isPresent()) {
            out.writeStringField("source", positions.source().get());
        }
        if (positions.target().isPresent()) {
            out.writeStringField("target", positions.target().get());
        }
        out.writeEndObject();
    }

    private static Positions positions(JsonParser in) throws IOException {
        if (in.currentToken() != JsonToken.START_OBJECT) {
            throw notOurs("something else where positions are expected");
        }
        Map<String, String> said = new HashMap<>();
        for (String side = in.nextFieldName(); side != null; side = in.nextFieldName()) {
            said.put(side, String.valueOf(in.nextTextValue()));
        }
        return new Positions(Optional.ofNullable(said.get("source")), Optional.ofNullable(said.get("target")));
    }

    private static void writeTimes(JsonGenerator out, long times, boolean among, OptionalLong both) throws IOException {
        if (times != 1) {
            out.writeNumberField("times", times);
        }
        if (among) {
            out.writeBooleanField("among", true);
        }
        if (both.isPresent()) {
            out.writeNumberField("both", both.getAsLong());
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
     * Reads the object that the parser stands on, as {@link #write} makes it: its kind comes first.
     *
     * @throws ToolException when the object is not a finding of this match
     */
    public Finding read(JsonParser in) throws IOException {
        if (in.currentToken() != JsonToken.START_OBJECT || !"kind".equals(in.nextFieldName())) {
            throw notOurs("an object that does not begin with its kind");
        }
        Draft draft = new Draft(String.valueOf(in.nextTextValue()));
        for (String field = in.nextFieldName(); field != null; field = in.nextFieldName()) {
            in.nextToken();
            draft.read(field, in);
        }
        return draft.finding();
    }

    /** A finding on its way from a file. */
    private final class Draft {
        private final String kind;
        private List<Value> key = List.of();
        private Optional<List<Value>> targetKey = Optional.empty();
        private List<Value> row = List.of();
        private long times = 1;
        private boolean among;
        private OptionalLong both = OptionalLong.empty();
        private Positions positions = Positions.UNKNOWN;
        private long inSource;
        private long inTarget;
        private final List<Difference> differences = new ArrayList<>();
        private final Map<Integer, Difference> same = new TreeMap<>();

        Draft(String kind) {
            this.kind = kind;
        }

        void read(String field, JsonParser in) throws IOException {
            switch (field) {
                case "key" -> key = values(in, keyNames);
                case "target-key" -> targetKey = Optional.of(values(in, keyNames));
                case "row" -> row = values(in, kind.equals("missing") ? sourceNames : targetNames);
                case "times" -> times = in.getLongValue();
                case "among" -> among = in.getBooleanValue();
                case "both" -> both = OptionalLong.of(in.getLongValue());
                case "in-source" -> inSource = in.getLongValue();
                case "in-target" -> inTarget = in.getLongValue();
                case "at" -> positions = positions(in);
                case "differs" -> differences(in);
                case "same" -> eachValue(in, (pair, value) -> same.put(pair, new Difference(pair, value, value)));
                case "same-in-source" ->
                    eachValue(
                            in,
                            (pair, value) ->
                                    same.computeIfPresent(pair, (p, d) -> new Difference(p, value, d.target())));
                default -> in.skipChildren();
            }
        }

        private void eachValue(JsonParser in, BiConsumer<Integer, Value> to) throws IOException {
            if (in.currentToken() != JsonToken.START_OBJECT) {
                throw notOurs("something else where an object of columns is expected");
            }
            for (String name = in.nextFieldName(); name != null; name = in.nextFieldName()) {
                Integer pair = pairPlaces.get(name);
                in.nextToken();
                if (pair == null) {
                    throw notOurs("column " + name);
                }
                to.accept(pair, ValueJson.read(in));
            }
        }

        private void differences(JsonParser in) throws IOException {
            for (String name = in.nextFieldName(); name != null; name = in.nextFieldName()) {
                Integer pair = pairPlaces.get(name);
                in.nextToken();
                if (pair == null) {
                    throw notOurs("column " + name);
                }
                List<Value> both = values(in, SIDES);
                differences.add(new Difference(pair, both.get(0), both.get(1)));
            }
        }

        Finding finding() {
            if (key.size() != keyNames.size()) {
                throw notOurs("a " + kind + " row without its key");
            }
            if ((kind.equals("missing") || kind.equals("extra")) && row.isEmpty()) {
                throw notOurs("a " + kind + " row without its values");
            }
            return switch (kind) {
                case "missing" -> new Finding.Missing(key, row, times, among, both, positions.source());
                case "extra" -> new Finding.Extra(key, row, times, among, both, positions.target());
                case "repeated" -> new Finding.Repeated(key, inSource, inTarget);
                case "changed" ->
                    new Finding.Changed(key, targetKey.orElse(key), differences, List.copyOf(same.values()), positions);
                default -> throw notOurs("kind '" + kind + "'");
            };
        }
    }

    /** The values of an object, which must have these names; they mostly stand in this order. */
    private static List<Value> values(JsonParser in, List<String> names) throws IOException {
        if (in.currentToken() != JsonToken.START_OBJECT) {
            throw notOurs("something else where an object of columns is expected");
        }
        Value[] values = new Value[names.size()];
        int next = 0;
        for (String name = in.nextFieldName(); name != null; name = in.nextFieldName()) {
            int place = next < values.length && names.get(next).equals(name) ? next : names.indexOf(name);
            in.nextToken();
            if (place < 0) {
                throw notOurs("column " + name);
            }
            values[place] = ValueJson.read(in);
            next = place + 1;
        }
        for (int i = 0; i < values.length; i++) {
            if (values[i] == null) {
                throw notOurs("no value for column " + names.get(i));
            }
        }
        return List.of(values);
    }

    private static ToolException notOurs(String what) {
        return new ToolException(
                ErrorKind.JOB_FILE, "not a finding of this match", what, "compare again; the file was changed");
    }
}
