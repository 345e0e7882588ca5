package sharptally.formats.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.PropertyNamingStrategies;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import com.fasterxml.jackson.dataformat.yaml.YAMLGenerator;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;

/** The YAML of files that people write: unknown keys are refused, and what is wrong is told in their terms. */
public final class Yaml {
    public static final YAMLMapper MAPPER = YAMLMapper.builder()
            .addModule(new Jdk8Module())
            .propertyNamingStrategy(PropertyNamingStrategies.KEBAB_CASE)
            .enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .disable(YAMLGenerator.Feature.WRITE_DOC_START_MARKER)
            .enable(YAMLGenerator.Feature.MINIMIZE_QUOTES)
            .enable(YAMLGenerator.Feature.INDENT_ARRAYS_WITH_INDICATOR)
            .disable(YAMLGenerator.Feature.SPLIT_LINES)
            .defaultPropertyInclusion(
                    JsonInclude.Value.construct(JsonInclude.Include.NON_EMPTY, JsonInclude.Include.NON_EMPTY))
            .build();

    private Yaml() {}

    /** A place in a file, in words. */
    public static String at(Path file, @org.jspecify.annotations.Nullable JsonLocation location) {
        return location == null
                ? file.toString()
                : file + ", line " + location.getLineNr() + ", column " + location.getColumnNr();
    }

    /** The parser tells where the key's value ends; the first line that has the key is what people look for. */
    public static String whereKeyStands(Path file, UnrecognizedPropertyException e) {
        Pattern key = Pattern.compile("[\\s{,-]*" + Pattern.quote(e.getPropertyName()) + "\\s*:.*");
        try {
            List<String> lines = Files.readAllLines(file);
            for (int i = 0; i < lines.size(); i++) {
                if (key.matcher(lines.get(i)).matches()) {
                    return file + ", line " + (i + 1);
                }
            }
        } catch (IOException ignored) {
            e.addSuppressed(ignored);
        }
        return at(file, e.getLocation());
    }

    /** The parser's finding; it tells the context first and the problem on a later line. */
    public static String said(JacksonException e) {
        return String.valueOf(e.getOriginalMessage())
                .lines()
                .filter(line -> line.startsWith("found ") || line.startsWith("could not "))
                .findFirst()
                .orElseGet(() -> String.valueOf(e.getOriginalMessage())
                        .lines()
                        .findFirst()
                        .orElse(""));
    }
}
