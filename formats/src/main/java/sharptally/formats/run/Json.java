package sharptally.formats.run;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.PropertyNamingStrategies;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.match.MatchNote;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.rule.Rule;
import sharptally.core.shape.RowFilter;
import sharptally.core.types.Value;
import sharptally.formats.value.ValueJson;

/** The JSON of run folders: names in lower case with hyphens, indented where a file is one object. */
public final class Json {
    public static final ObjectMapper MAPPER = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxStringLength(Integer.MAX_VALUE)
                            .build())
                    .build())
            .addModule(new Jdk8Module())
            .propertyNamingStrategy(PropertyNamingStrategies.KEBAB_CASE)
            .enable(SerializationFeature.INDENT_OUTPUT)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .defaultPrettyPrinter(new DefaultPrettyPrinter().withObjectIndenter(new DefaultIndenter("  ", "\n")))
            .addMixIn(Rule.class, RuleForm.class)
            .addMixIn(RowFilter.class, FilterForm.class)
            .addMixIn(ShapeDifference.class, DifferenceForm.class)
            .addMixIn(MatchNote.class, NoteForm.class)
            .addModule(values())
            .build();

    static final TypeReference<List<TableMatch>> MATCHES = new TypeReference<>() {};
    static final TypeReference<RunSummary> SUMMARY = new TypeReference<>() {};
    static final TypeReference<List<Sliced>> SLICED = new TypeReference<>() {};

    private Json() {}

    /**
     * Finds out how a run is read, which is else done when its parts are first met, and takes long. May be done by another
     * thread, beside anything else.
     */
    public static void prepareReading() {
        MAPPER.readerFor(SUMMARY);
        MAPPER.readerFor(MATCHES);
    }

    /** The same for writing one. */
    public static void prepareWriting() {
        MAPPER.writerFor(MATCHES);
        MAPPER.writerFor(SUMMARY);
        MAPPER.writerFor(RangeResult.class);
    }

    /** Values as in findings. */
    private static SimpleModule values() {
        return new SimpleModule()
                .addSerializer(Value.class, new StdSerializer<>(Value.class) {
                    @Override
                    public void serialize(Value value, JsonGenerator out, SerializerProvider provider)
                            throws IOException {
                        ValueJson.write(out, value);
                    }
                })
                .addDeserializer(Value.class, new StdDeserializer<>(Value.class) {
                    @Override
                    public Value deserialize(JsonParser in, DeserializationContext context) throws IOException {
                        return ValueJson.read(in);
                    }

                    @Override
                    public Value getNullValue(DeserializationContext context) {
                        return Value.NULL;
                    }
                });
    }

    /** A rule is an object whose {@code rule} says which one it is. */
    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "rule")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = Rule.Within.class, name = "within"),
        @JsonSubTypes.Type(value = Rule.Decimals.class, name = "decimals"),
        @JsonSubTypes.Type(value = Rule.Precision.class, name = "precision"),
        @JsonSubTypes.Type(value = Rule.Written.class, name = "written"),
        @JsonSubTypes.Type(value = Rule.Zone.class, name = "zone"),
        @JsonSubTypes.Type(value = Rule.SameAs.class, name = "same-as"),
        @JsonSubTypes.Type(value = Rule.IgnoreCase.class, name = "case"),
        @JsonSubTypes.Type(value = Rule.Unicode.class, name = "unicode"),
        @JsonSubTypes.Type(value = Rule.Spaces.class, name = "spaces"),
        @JsonSubTypes.Type(value = Rule.EmptyAsNull.class, name = "empty-as-null"),
        @JsonSubTypes.Type(value = Rule.JsonMeaning.class, name = "json"),
        @JsonSubTypes.Type(value = Rule.AnyOrder.class, name = "list"),
        @JsonSubTypes.Type(value = Rule.Clean.class, name = "clean")
    })
    private interface RuleForm {}

    /** A filter is an object whose {@code filter} says which one it is. */
    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "filter")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = RowFilter.Condition.class, name = "condition"),
        @JsonSubTypes.Type(value = RowFilter.Compared.class, name = "compared"),
        @JsonSubTypes.Type(value = RowFilter.Null.class, name = "null"),
        @JsonSubTypes.Type(value = RowFilter.Partition.class, name = "partition"),
        @JsonSubTypes.Type(value = RowFilter.Sample.class, name = "sample")
    })
    private interface FilterForm {}

    /** A difference of shape is an object whose {@code difference} says which one it is. */
    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "difference")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = ShapeDifference.OnOneSide.class, name = "on-one-side"),
        @JsonSubTypes.Type(value = ShapeDifference.Unseen.class, name = "unseen"),
        @JsonSubTypes.Type(value = ShapeDifference.Incomparable.class, name = "incomparable"),
        @JsonSubTypes.Type(value = ShapeDifference.Type.class, name = "type"),
        @JsonSubTypes.Type(value = ShapeDifference.Zone.class, name = "zone"),
        @JsonSubTypes.Type(value = ShapeDifference.Digits.class, name = "digits"),
        @JsonSubTypes.Type(value = ShapeDifference.Length.class, name = "length"),
        @JsonSubTypes.Type(value = ShapeDifference.Nullability.class, name = "nullability"),
        @JsonSubTypes.Type(value = ShapeDifference.Order.class, name = "order")
    })
    private interface DifferenceForm {}

    /** A note is an object whose {@code note} says which one it is. */
    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "note")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = MatchNote.LeftOut.class, name = "left-out"),
        @JsonSubTypes.Type(value = MatchNote.NoKey.class, name = "no-key"),
        @JsonSubTypes.Type(value = MatchNote.ByRule.class, name = "by-rule"),
        @JsonSubTypes.Type(value = MatchNote.OfPartition.class, name = "of-partition"),
        @JsonSubTypes.Type(value = MatchNote.Undivided.class, name = "undivided"),
        @JsonSubTypes.Type(value = MatchNote.Inherited.class, name = "inherited")
    })
    private interface NoteForm {}

    /** An object on one line. */
    public static String line(Object object) throws IOException {
        return MAPPER.writer().without(SerializationFeature.INDENT_OUTPUT).writeValueAsString(object);
    }

    /** A generator of one object per line, the line ends being the caller's. */
    public static JsonGenerator lines(OutputStream out) throws IOException {
        return MAPPER.getFactory().createGenerator(out).setRootValueSeparator(null);
    }
}
