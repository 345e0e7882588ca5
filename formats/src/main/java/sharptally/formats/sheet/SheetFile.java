package sharptally.formats.sheet;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.MatchWish;
import sharptally.core.match.TableMatch;

/** Reads and writes sheets. A key that is not known is refused, with its place and the nearest known one. */
public final class SheetFile {
    private SheetFile() {}

    /**
     * @throws ToolException when the file is not there or not a sheet
     */
    public static Sheet read(Path file) {
        try {
            Sheet sheet = Yaml.MAPPER.readValue(Files.readString(file), Sheet.class);
            check(sheet, file);
            return sheet;
        } catch (UnrecognizedPropertyException e) {
            throw problem(
                    "no such key in a sheet: " + e.getPropertyName(), Yaml.whereKeyStands(file, e), Yaml.nearest(e));
        } catch (JacksonException e) {
            throw problem("not a sheet: " + Yaml.said(e), Yaml.at(file, e.getLocation()), "see docs/sheet.md");
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
            return Yaml.MAPPER.writeValueAsString(new Sheet(Sheet.FORMAT, source, target, Optional.of(written)));
        } catch (JacksonException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<String> leftOut(TableMatch match) {
        return java.util.stream.Stream.concat(match.sourceOnly().stream(), match.targetOnly().stream())
                .map(c -> c.name())
                .distinct()
                .filter(name -> match.notCompared().stream().noneMatch(n -> n.startsWith("column " + name + ":")))
                .filter(name -> match.shape().stream().noneMatch(n -> n.startsWith("column " + name + " is in the ")))
                .toList();
    }
}
