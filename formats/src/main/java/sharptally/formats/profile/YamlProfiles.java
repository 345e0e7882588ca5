package sharptally.formats.profile;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.profile.Profile;
import sharptally.core.place.profile.ProfileReader;
import sharptally.formats.InputFile;
import sharptally.formats.job.Yaml;

/** Reads a profile of YAML; what is wrong with it is told in its own terms. Safe between threads. */
public final class YamlProfiles implements ProfileReader {
    private static final Pattern WORD = Pattern.compile("\\{[a-z]+}");

    /** The words that may stand in what a key says; in what any other key says, none. */
    private static final Map<String, Set<String>> WORDS = Map.ofEntries(
            Map.entry("read", Set.of("{column}")),
            Map.entry("order", Set.of("{column}")),
            Map.entry("hashed", Set.of("{column}")),
            Map.entry("literal", Set.of("{value}")),
            Map.entry("limited", Set.of("{query}", "{rest}", "{rows}", "{skipped}")),
            Map.entry("same", Set.of("{one}", "{other}")),
            Map.entry("distinct", Set.of("{one}", "{other}")),
            Map.entry("remainder", Set.of("{number}", "{divisor}")),
            Map.entry("whole-sum", Set.of("{column}")),
            Map.entry("decimal-sum", Set.of("{column}")),
            Map.entry("floating-sum", Set.of("{column}")),
            Map.entry("text-length", Set.of("{column}")),
            Map.entry("bytes-length", Set.of("{column}")),
            Map.entry("hash", Set.of("{record}")),
            Map.entry("field", Set.of("{field}")),
            Map.entry("sum", Set.of("{hash}")),
            Map.entry("slice", Set.of("{number}", "{step}")),
            Map.entry("masked", Set.of("{hash}", "{mask}", "{shares}")));

    private static final YAMLMapper MAPPER = Yaml.MAPPER.copy();

    static {
        MAPPER.enable(DeserializationFeature.FAIL_ON_NULL_CREATOR_PROPERTIES);
    }

    @Override
    public Profile read(Path file) {
        try {
            if (InputFile.othersCanWrite(file)) {
                throw new ToolException(
                        ErrorKind.REFUSED,
                        "somebody else may write this profile, and its SQL would run as you",
                        file.toString(),
                        "take that right away: chmod go-w");
            }
            return read(Files.readString(file), file.toString());
        } catch (IOException e) {
            throw problem("can't read this profile (" + e.getMessage() + ")", file.toString());
        }
    }

    @Override
    public Profile read(String text, String where) {
        try {
            Profile profile = MAPPER.readValue(text, Profile.class);
            if (profile == null) {
                throw problem("a profile needs profile, addresses and proof", where);
            }
            check(profile, where);
            return profile;
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a profile: " + e.getPropertyName(),
                    where + ", line " + e.getLocation().getLineNr());
        } catch (JacksonException e) {
            String key = e instanceof JsonMappingException m
                    ? m.getPath().stream()
                            .map(p -> String.valueOf(p.getFieldName()))
                            .collect(Collectors.joining("."))
                    : "";
            String line =
                    e.getLocation() == null ? "" : ", line " + e.getLocation().getLineNr();
            throw problem(key.isEmpty() ? "not a profile" : "not there, or not as it should be: " + key, where + line);
        }
    }

    /** What the mapper does not see: the names of kinds. */
    private static void check(Profile profile, String where) {
        Stream.concat(
                        profile.types().orElse(Map.of()).values().stream(),
                        profile.values().orElse(Map.of()).keySet().stream())
                .forEach(words -> {
                    try {
                        Profile.canonical(words);
                    } catch (IllegalArgumentException | IndexOutOfBoundsException e) {
                        throw problem("no such kind of value: " + words, where);
                    }
                });
        unknownWord("", MAPPER.valueToTree(profile)).ifPresent(word -> {
            throw problem("no such word in a profile: " + word, where);
        });
        profile.types().orElse(Map.of()).keySet().forEach(pattern -> {
            try {
                Pattern.compile(pattern);
            } catch (PatternSyntaxException e) {
                throw problem("not a pattern of type names: " + pattern, where);
            }
        });
        profile.values().orElse(Map.of()).values().stream()
                .flatMap(v -> v.found().stream())
                .filter(found -> !List.of("index", "scan", "never").contains(found))
                .forEach(found -> {
                    throw problem("no such way to find rows: " + found, where);
                });
        profile.script()
                .together()
                .filter(t -> !t.equals("merge") && !t.equals("from"))
                .ifPresent(t -> {
                    throw problem("no such way to change many rows: " + t, where);
                });
    }

    /** What stands in braces and would stay as it is. */
    private static Optional<String> unknownWord(String key, JsonNode said) {
        if (said.isTextual()) {
            return WORD.matcher(said.asText())
                    .results()
                    .map(MatchResult::group)
                    .filter(word -> !WORDS.getOrDefault(key, Set.of()).contains(word))
                    .findFirst()
                    .map(word -> word + " in " + key);
        }
        return said.properties().stream()
                .flatMap(part -> unknownWord(part.getKey(), part.getValue()).stream())
                .findFirst();
    }

    private static ToolException problem(String what, String where) {
        return new ToolException(ErrorKind.USAGE, what, where, "see docs/profiles.md");
    }
}
