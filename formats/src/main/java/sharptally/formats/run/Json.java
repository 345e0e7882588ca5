package sharptally.formats.run;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.PropertyNamingStrategies;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import java.io.IOException;
import java.io.OutputStream;
import sharptally.core.rule.Rule;

/** The JSON of run folders: names in lower case with hyphens, indented where a file is one object. */
public final class Json {
    public static final ObjectMapper MAPPER = JsonMapper.builder()
            .addModule(new Jdk8Module())
            .propertyNamingStrategy(PropertyNamingStrategies.KEBAB_CASE)
            .enable(SerializationFeature.INDENT_OUTPUT)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .defaultPrettyPrinter(new DefaultPrettyPrinter().withObjectIndenter(new DefaultIndenter("  ", "\n")))
            .addMixIn(Rule.class, RuleForm.class)
            .build();

    private Json() {}

    /** A rule is an object whose {@code rule} says which one it is. */
    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "rule")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = Rule.Within.class, name = "within"),
        @JsonSubTypes.Type(value = Rule.Decimals.class, name = "decimals"),
        @JsonSubTypes.Type(value = Rule.Precision.class, name = "precision"),
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

    /** A generator of one object per line, the line ends being the caller's. */
    public static JsonGenerator lines(OutputStream out) throws IOException {
        return MAPPER.getFactory().createGenerator(out).setRootValueSeparator(null);
    }
}
