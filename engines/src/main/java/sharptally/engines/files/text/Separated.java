package sharptally.engines.files.text;

import de.siegmar.fastcsv.reader.AbstractBaseCsvCallbackHandler;
import de.siegmar.fastcsv.reader.CloseableIterator;
import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.FieldMismatchStrategy;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import sharptally.core.fault.ToolException;
import sharptally.engines.files.write.RecordWriting;

/** Fields between delimiters, quoted where they hold one: CSV (RFC 4180), with any delimiter and quote. */
final class Separated implements RecordReader {
    private static final int MAX_RECORD_CHARS = 32 << 20;
    private static final char NO_QUOTE = '\uFFFE';

    private final Path file;
    private final Decoded text;
    private final CsvReader<Record> reader;
    private final CloseableIterator<Record> records;
    private final Record record = new Record();

    private Separated(Path file, FileForm form, Decoded text) {
        this.file = file;
        this.text = text;
        char quote = form.quote().orElse('"');
        this.reader = CsvReader.builder()
                .fieldSeparator(form.delimiter().orElseThrow())
                .quoteCharacter(quote == 0 ? NO_QUOTE : quote)
                .skipEmptyLines(false)
                .extraFieldStrategy(FieldMismatchStrategy.IGNORE)
                .missingFieldStrategy(FieldMismatchStrategy.IGNORE)
                .maxBufferSize(MAX_RECORD_CHARS)
                .build(new Taking(record), new Ended(text.reader()));
        this.records = reader.iterator();
    }

    /**
     * @param form in which the delimiter is decided
     */
    static RowsOfFile rows(Path file, FileForm form) throws IOException {
        return rows(file, form, Decoded.open(file, form.encoding()));
    }

    /** Of text that was taken out of a file. */
    static RowsOfFile rows(Path file, FileForm form, Decoded text) throws IOException {
        return new RecordRows(
                file,
                form,
                new Separated(file, form, text),
                text,
                new RecordWriting(
                        file,
                        text.charset(),
                        form.delimiter().orElseThrow(),
                        form.quote().orElse('"'),
                        false,
                        form.nothing().orElse("")));
    }

    @Override
    public Record record() {
        return record;
    }

    @Override
    public long lastLine() {
        return record.line() + record.lineBreaks();
    }

    @Override
    public boolean advance() {
        try {
            if (!records.hasNext()) {
                throw FileProblem.at(
                        file,
                        record.line(),
                        "quotes that are opened in this record are never closed",
                        "mend the line; where quotes mean nothing, say ?quote=none");
            }
            records.next();
            return !(record.fields() == 1 && record.is(0, Ended.LINE));
        } catch (CsvParseException e) {
            Throwable cause = e.getCause() == null ? e : e.getCause();
            if (cause instanceof ToolException known) {
                throw known;
            }
            if (cause instanceof IOException io
                    && !String.valueOf(io.getMessage()).contains("buffer")) {
                throw text.failed(io, record.line());
            }
            throw FileProblem.at(
                    file,
                    record.line(),
                    String.valueOf(cause.getMessage()).contains("buffer")
                            ? "a record of more than " + MAX_RECORD_CHARS + " characters begins hereabouts"
                            : "something stands between a closing quote and the next delimiter",
                    "mend the line; quotes within quotes are written twice");
        } catch (UncheckedIOException e) {
            throw text.failed(e.getCause(), record.line());
        }
    }

    @Override
    public void close() throws IOException {
        reader.close();
    }

    /** Takes the fields of one record after the other into the same place. */
    private static final class Taking extends AbstractBaseCsvCallbackHandler<Record> {
        private final Record record;

        Taking(Record record) {
            this.record = record;
        }

        @Override
        protected void handleBegin(long startingLineNumber) {
            record.begin(startingLineNumber);
        }

        @Override
        protected void handleField(int index, char[] from, int start, int length, boolean quoted) {
            record.addField(from, start, length, quoted);
        }

        @Override
        protected void handleEmpty() {
            record.endField(false);
        }

        @Override
        protected Record buildRecord() {
            return record;
        }
    }
}
