package sharptally.engines.files.text;

import java.io.EOFException;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.engines.files.raw.RawForm;
import sharptally.engines.files.raw.RawRows;

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

    private final FileNames names;

    FileKind(String word, List<String> endings) {
        this.names = new FileNames(word, endings, true);
    }

    /** By which addresses name it. */
    public String word() {
        return names.word();
    }

    /** How files of this kind are called. */
    public FileNames names() {
        return names;
    }

    /** Some records that were taken out of a file, without those that name columns, as they stand there. */
    public RowsOfFile openRecords(Path file, byte[] records, RawForm raw) {
        FileForm form = new FileForm(
                Optional.of(raw.charset()),
                Optional.of((char) raw.delimiter()),
                Optional.of((char) raw.quote()),
                Optional.of(false),
                raw.names(),
                Optional.of(new String(raw.nothing(), raw.charset())),
                Optional.empty(),
                0);
        try {
            return Separated.rows(file, form, Decoded.of(file, records, raw.charset()));
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    /** The same rows as {@link #open} gives, for one who wants nothing else of the file. */
    public RowsOfFile openRows(Path file, FileForm form) {
        RowsOfFile rows = open(file, form);
        return rows.raw()
                .filter(raw -> form.brokenAllowed() == 0)
                .<RowsOfFile>map(raw -> new RawRows(file, rows, raw, () -> open(file, form)))
                .orElse(rows);
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
