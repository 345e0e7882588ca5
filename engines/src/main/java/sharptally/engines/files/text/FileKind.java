package sharptally.engines.files.text;

import java.io.EOFException;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The kinds of files whose rows can be read. */
public enum FileKind {
    /** Fields between delimiters, quoted where needed. */
    CSV("csv", List.of(".csv", ".txt")),
    /** Fields between tabs, with backslashes. */
    TSV("tsv", List.of(".tsv", ".tab", ".txt")),
    /** JSON objects. */
    JSONL("jsonl", List.of(".jsonl", ".ndjson", ".json")),
    /** A sheet of a workbook. */
    XLSX("xlsx", List.of(".xlsx"));

    private final String word;
    private final List<String> endings;

    FileKind(String word, List<String> endings) {
        this.word = word;
        this.endings = endings;
    }

    /** By which addresses name it. */
    public String word() {
        return word;
    }

    /** The name of a file without its endings, which is that of its table; empty when a file of that name is none of these. */
    public Optional<String> table(String fileName) {
        String bare = bare(fileName);
        String lower = bare.toLowerCase(Locale.ROOT);
        return endings.stream()
                .filter(e -> lower.endsWith(e) && lower.length() > e.length())
                .findFirst()
                .map(e -> bare.substring(0, bare.length() - e.length()));
    }

    /** The table of a file that the user names, whatever its ending. */
    public String tableOf(String fileName) {
        return table(fileName).orElseGet(() -> {
            String bare = bare(fileName);
            int dot = bare.lastIndexOf('.');
            return dot > 0 ? bare.substring(0, dot) : bare;
        });
    }

    private static String bare(String fileName) {
        return fileName.substring(
                0, fileName.length() - Unpacked.ending(fileName).length());
    }

    /**
     * @throws sharptally.core.fault.ToolException when the file can't be opened, or is none of this kind
     */
    public RowsOfFile open(Path file, FileForm form) {
        try {
            return switch (this) {
                case CSV ->
                    Separated.rows(
                            file, form.delimiter().isPresent() ? form : form.delimitedBy(Delimiter.of(file, form)));
                case TSV -> Escaped.rows(file, form);
                case JSONL -> new JsonRows(file, form);
                case XLSX -> new SheetRows(file, form);
            };
        } catch (NoSuchFileException e) {
            throw FileProblem.of(file, "no such file", "check the path");
        } catch (EOFException e) {
            throw Unpacked.damaged(file, e);
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }
}
