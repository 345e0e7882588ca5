package sharptally.engines.files.text;

import de.siegmar.fastcsv.reader.AbstractBaseCsvCallbackHandler;
import de.siegmar.fastcsv.reader.CloseableIterator;
import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Column;

/** Fields between delimiters, quoted where they hold one: CSV (RFC 4180), with any delimiter and quote. */
final class SeparatedRows implements RowsOfFile {
    private static final int MAX_RECORD_CHARS = 32 << 20;
    private static final char NO_QUOTE = '\uFFFE';

    private final Path file;
    private final Decoded text;
    private final CsvReader<Record> reader;
    private final CloseableIterator<Record> records;
    private final Record record = new Record();
    private final Map<String, String> facts = new LinkedHashMap<>();
    private final String nothing;
    private final List<String> names;
    private boolean pending;

    /**
     * @param form in which everything but the header is decided
     */
    SeparatedRows(Path file, FileForm form) throws IOException {
        this.file = file;
        this.nothing = form.nothing().orElse("");
        this.text = Decoded.open(file, form.encoding());
        char delimiter = form.delimiter().orElseThrow();
        char quote = form.quote().orElse('"');
        this.reader = CsvReader.builder()
                .fieldSeparator(delimiter)
                .quoteCharacter(quote == 0 ? NO_QUOTE : quote)
                .skipEmptyLines(false)
                .allowExtraFields(true)
                .allowMissingFields(true)
                .allowExtraCharsAfterClosingQuote(false)
                .maxBufferSize(MAX_RECORD_CHARS)
                .build(new Taking(record), new Ended(text.reader()));
        this.records = reader.iterator();
        facts.put("encoding", text.charset().name());
        facts.put("delimiter", Header.word(delimiter));
        try {
            boolean any = advance();
            Header header = Header.of(file, form, any ? record.texts() : List.of());
            this.names = header.names();
            this.pending = any && !header.isRecord();
            facts.put("header", header.isRecord() ? "yes" : "no");
        } catch (RuntimeException e) {
            close();
            throw e;
        }
    }

    @Override
    public List<String> names() {
        return names;
    }

    @Override
    public Map<String, String> facts() {
        return facts;
    }

    @Override
    public boolean next() {
        boolean any = pending || advance();
        pending = false;
        while (any && names.size() > 1 && record.fields() == 1 && record.is(0, "") && !record.isQuoted(0)) {
            // An empty line is no record of several fields.
            any = advance();
        }
        if (any && record.fields() != names.size()) {
            throw FileProblem.at(
                    file,
                    record.line(),
                    "this record has " + record.fields() + (record.fields() == 1 ? " field" : " fields") + ", not "
                            + names.size(),
                    "mend the line; if all are like it, another delimiter or quote may be meant"
                            + " (?delimiter=, ?quote=)");
        }
        return any;
    }

    private boolean advance() {
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
    public long line() {
        return record.line();
    }

    @Override
    public void add(int field, Column into) {
        if (!record.isQuoted(field) && record.is(field, nothing)) {
            into.addNull();
        } else {
            record.add(field, into);
        }
    }

    @Override
    public void close() {
        try {
            reader.close();
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
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
