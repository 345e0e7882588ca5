package sharptally.formats.sheet;

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
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.MatchWish;
import sharptally.core.match.TableMatch;

/** Reads and writes sheets. A key that is not known is refused, with its place and the nearest known one. */
public final class SheetFile {
    private static final YAMLMapper YAML = YAMLMapper.builder()
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

    private SheetFile() {}

    /**
     * @throws ToolException when the file is not there or not a sheet
     */
    public static Sheet read(Path file) {
        try {
            Sheet sheet = YAML.readValue(Files.readString(file), Sheet.class);
            check(sheet, file);
            return sheet;
        } catch (UnrecognizedPropertyException e) {
            throw problem("no such key in a sheet: " + e.getPropertyName(), whereKeyStands(file, e), nearest(e));
        } catch (JacksonException e) {
            throw problem("not a sheet: " + said(e), at(file, e.getLocation()), "see docs/sheet.md");
        } catch (java.nio.file.NoSuchFileException e) {
            throw problem("no such file", file.toString(), "check the path");
        } catch (IOException e) {
            throw problem("can't read the sheet", file + " (" + e.getMessage() + ")", "check the file");
        }
    }

    private static void check(Sheet sheet, Path file) {
        if (sheet == null) {
            throw problem("the sheet is empty", file.toString(), "see docs/sheet.md");
        }
        if (sheet.sheet() != Sheet.FORMAT) {
            throw problem("a sheet must begin with 'sheet: " + Sheet.FORMAT + "'", file.toString(), "");
        }
        if (sheet.source() == null || sheet.target() == null) {
            throw problem("a sheet needs a source and a target", file.toString(), "see docs/sheet.md");
        }
        for (Sheet.Match match : sheet.matches().orElse(List.of())) {
            boolean incomplete = match == null
                    || match.source() == null
                    || match.columns().orElse(List.of()).stream()
                            .anyMatch(c -> c == null || c.source() == null || c.target() == null);
            if (incomplete) {
                throw problem(
                        "a match needs a source, and each of its columns a source and a target", file.toString(), "");
            }
        }
    }

    private static String at(Path file, @org.jspecify.annotations.Nullable JsonLocation location) {
        return location == null
                ? file.toString()
                : file + ", line " + location.getLineNr() + ", column " + location.getColumnNr();
    }

    /** The parser tells where the key's value ends; the first line that has the key is what people look for. */
    private static String whereKeyStands(Path file, UnrecognizedPropertyException e) {
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

    private static String nearest(UnrecognizedPropertyException e) {
        return e.getKnownPropertyIds().stream()
                .map(String::valueOf)
                .min(Comparator.comparingInt(known -> distance(known, e.getPropertyName())))
                .map(known -> "did you mean " + known + "?")
                .orElse("");
    }

    /** Letters to insert, drop or replace to make one word the other. */
    private static int distance(String one, String other) {
        int[] row = new int[other.length() + 1];
        for (int j = 0; j <= other.length(); j++) {
            row[j] = j;
        }
        for (int i = 1; i <= one.length(); i++) {
            int diagonal = row[0];
            row[0] = i;
            for (int j = 1; j <= other.length(); j++) {
                int replace = diagonal + (one.charAt(i - 1) == other.charAt(j - 1) ? 0 : 1);
                diagonal = row[j];
                row[j] = Math.min(replace, Math.min(row[j], row[j - 1]) + 1);
            }
        }
        return row[other.length()];
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.SHEET, what, where, mend);
    }

    /** What the sheet says of its matches, in the planner's terms. */
    public static List<MatchWish> wishes(Sheet sheet) {
        return sheet.matches().orElse(List.of()).stream()
                .map(m -> new MatchWish(
                        m.source(),
                        m.target().orElse(m.source()),
                        m.key().orElse(List.of()),
                        m.columns().orElse(List.of()).stream()
                                .collect(Collectors.toMap(
                                        Sheet.ColumnNames::source, Sheet.ColumnNames::target, (one, two) -> two)),
                        m.leaveOut().orElse(List.of())))
                .toList();
    }

    /** A sheet that says expressly all that was decided, so that it makes the same comparison again. */
    public static String resolved(String source, String target, List<TableMatch> matches) {
        List<Sheet.Match> written = matches.stream()
                .map(m -> new Sheet.Match(
                        m.source().name().toString(),
                        Optional.of(m.target().name().toString()),
                        Optional.of(m.keyPairs().stream().map(p -> p.name()).toList()),
                        Optional.of(m.pairs().stream()
                                .map(p -> new Sheet.ColumnNames(
                                        p.source().name(), p.target().name()))
                                .toList()),
                        Optional.of(leftOut(m))))
                .toList();
        try {
            return YAML.writeValueAsString(new Sheet(Sheet.FORMAT, source, target, Optional.of(written)));
        } catch (JacksonException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<String> leftOut(TableMatch match) {
        return java.util.stream.Stream.concat(match.sourceOnly().stream(), match.targetOnly().stream())
                .map(c -> c.name())
                .distinct()
                .filter(name -> match.notCompared().stream().noneMatch(n -> n.startsWith("column " + name + ":")))
                .filter(name -> match.notes().stream().noneMatch(n -> n.startsWith("column " + name + " is in the ")))
                .toList();
    }

    /** The parser's finding; it tells the context first and the problem on a later line. */
    private static String said(JacksonException e) {
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
