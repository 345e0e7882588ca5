package sharptally.engines.files.text;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import java.io.IOException;
import java.io.StringWriter;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.rows.Column;
import sharptally.engines.files.write.JsonWriting;
import sharptally.engines.files.write.Writing;

/**
 * JSON objects, one after the other or in one array. Text is taken as it is, numbers and booleans as they are written,
 * objects and arrays as JSON; {@code null} and a member that is not there are NULL.
 */
final class JsonRows implements RowsOfFile {
    /** So many objects tell what columns there are. */
    private static final int LOOKED_AT = 1_000;

    private static final int MAX_SCALE = 400;
    private static final JsonFactory FACTORY = JsonFactory.builder()
            .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxStringLength(64 << 20)
                    .maxNumberLength(100_000)
                    .build())
            .build();

    private final Path file;
    private final Decoded text;
    private final JsonParser in;
    private final Map<String, Integer> places = new LinkedHashMap<>();
    private final List<Optional<String>> values;
    private final Map<String, String> facts = new LinkedHashMap<>();
    private long line;

    JsonRows(Path file, FileForm form) throws IOException {
        this(file, form, form.names().isEmpty() ? names(file, form) : form.names());
        if (places.isEmpty()) {
            close();
            throw FileProblem.of(file, "no object is in this file", "name its columns: ?names=a,b,c");
        }
    }

    private JsonRows(Path file, FileForm form, List<String> names) throws IOException {
        this.file = file;
        this.text = Decoded.open(file, form.encoding());
        this.in = FACTORY.createParser(text.reader());
        names.forEach(name -> places.put(name, places.size()));
        this.values = new ArrayList<>(Collections.nCopies(places.size(), Optional.empty()));
        facts.put("encoding", text.charset().name());
    }

    private static List<String> names(Path file, FileForm form) throws IOException {
        Set<String> names = new LinkedHashSet<>();
        try (JsonRows rows = new JsonRows(file, form, List.of())) {
            for (int i = 0; i < LOOKED_AT && rows.begin(); i++) {
                for (String name = rows.in.nextFieldName(); name != null; name = rows.in.nextFieldName()) {
                    names.add(name);
                    rows.in.nextToken();
                    rows.in.skipChildren();
                }
            }
        } catch (JsonProcessingException e) {
            // Whoever reads the rows says where it is; what came before tells the columns.
            return names.isEmpty() ? List.of("value") : List.copyOf(names);
        }
        return List.copyOf(names);
    }

    @Override
    public List<String> names() {
        return List.copyOf(places.keySet());
    }

    @Override
    public Map<String, String> facts() {
        return facts;
    }

    /** Goes to the begin of the next object. */
    private boolean begin() throws IOException {
        JsonToken token = in.nextToken();
        boolean root = in.getParsingContext().inRoot()
                || in.getParsingContext().getParent().inRoot();
        while (root && (token == JsonToken.START_ARRAY || token == JsonToken.END_ARRAY)) {
            token = in.nextToken();
        }
        if (token == null) {
            return false;
        }
        line = in.currentTokenLocation().getLineNr();
        if (token != JsonToken.START_OBJECT) {
            throw FileProblem.at(file, line, "here is no object", "each row is an object: {\"column\": value, …}");
        }
        return true;
    }

    @Override
    public boolean next() {
        try {
            if (!begin()) {
                return false;
            }
            Collections.fill(values, Optional.empty());
            for (String name = in.nextFieldName(); name != null; name = in.nextFieldName()) {
                Integer place = places.get(name);
                if (place == null) {
                    throw FileProblem.at(
                            file,
                            in.currentTokenLocation().getLineNr(),
                            "here is a member that none of the first " + LOOKED_AT + " objects has: " + name,
                            "name all columns: ?names=" + String.join(",", places.keySet()) + "," + name);
                }
                values.set(place, value(in.nextToken()));
            }
            return true;
        } catch (JsonProcessingException e) {
            throw FileProblem.at(
                    file,
                    e.getLocation() == null ? line : e.getLocation().getLineNr(),
                    "not JSON (" + e.getOriginalMessage().lines().findFirst().orElse("") + ")",
                    "mend the line");
        } catch (IOException e) {
            throw text.failed(e, line);
        }
    }

    private Optional<String> value(JsonToken token) throws IOException {
        return switch (token) {
            case VALUE_NULL -> Optional.empty();
            case VALUE_STRING, VALUE_TRUE, VALUE_FALSE, VALUE_NUMBER_INT -> Optional.of(in.getText());
            case VALUE_NUMBER_FLOAT -> Optional.of(plain(in.getText()));
            default -> {
                StringWriter json = new StringWriter();
                try (JsonGenerator out = FACTORY.createGenerator(json)) {
                    out.copyCurrentStructure(in);
                }
                yield Optional.of(json.toString());
            }
        };
    }

    private static String plain(String number) {
        if (number.indexOf('e') < 0 && number.indexOf('E') < 0) {
            return number;
        }
        BigDecimal exact = new BigDecimal(number);
        return Math.abs(exact.scale()) > MAX_SCALE ? number : exact.toPlainString();
    }

    @Override
    public long line() {
        return line;
    }

    @Override
    public List<String> broken() {
        return List.of();
    }

    @Override
    public long lastLine() {
        return in.currentTokenLocation().getLineNr();
    }

    @Override
    public Optional<Writing> writing() {
        return Optional.of(new JsonWriting(file, text.charset(), names()));
    }

    @Override
    public void add(int field, Column into) {
        values.get(field).ifPresentOrElse(into::addText, into::addNull);
    }

    @Override
    public void close() {
        try {
            in.close();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }
}
