package sharptally.engines.files.text;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.rows.Column;
import sharptally.engines.files.raw.RawForm;
import sharptally.engines.files.write.RecordWriting;
import sharptally.engines.files.write.Writing;

/** Records of text as rows: named by the first of them or by the user, each with a field for every column. */
final class RecordRows implements RowsOfFile {
    private final Path file;
    private final RecordReader reader;
    private final Record record;
    private final String nothing;
    private final RecordWriting writing;
    private final List<String> names;
    private final Map<String, String> facts = new LinkedHashMap<>();
    private final long brokenAllowed;
    private final List<String> broken = new ArrayList<>();
    private final boolean named;
    private boolean pending;

    /**
     * @param reader closed together with the rows, and when they can't be had
     * @param writing how its records are written
     */
    RecordRows(Path file, FileForm form, RecordReader reader, Decoded text, RecordWriting writing) throws IOException {
        this.file = file;
        this.reader = reader;
        this.record = reader.record();
        this.writing = writing;
        this.brokenAllowed = form.brokenAllowed();
        this.nothing = writing.nothing();
        facts.put("encoding", text.charset().name());
        facts.put("delimiter", Header.word(form.delimiter().orElseThrow()));
        try {
            boolean any = reader.advance();
            Header header = Header.of(file, form, any ? record.texts() : List.of());
            this.names = header.names();
            this.named = header.isRecord();
            this.pending = any && !named;
            facts.put("header", header.isRecord() ? "yes" : "no");
        } catch (RuntimeException e) {
            reader.close();
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
        boolean any = pending || reader.advance();
        pending = false;
        while (any && names.size() > 1 && record.fields() == 1 && isEmpty()) {
            // An empty line is no record of several fields.
            any = reader.advance();
        }
        while (any && record.fields() != names.size() && broken.size() < brokenAllowed) {
            broken.add(file.getFileName() + ":" + record.line() + " has " + record.fields() + " fields");
            any = reader.advance();
        }
        if (any && record.fields() != names.size()) {
            throw FileProblem.at(
                    file,
                    record.line(),
                    "this record has " + record.fields() + (record.fields() == 1 ? " field" : " fields") + ", not "
                            + names.size(),
                    "mend the line; if all are like it, another delimiter or quote may be meant"
                            + " (?delimiter=, ?quote=); ?allow-broken=N passes so many over");
        }
        return any;
    }

    private boolean isEmpty() {
        return record.is(0, "") && !record.isQuoted(0);
    }

    @Override
    public long line() {
        return record.line();
    }

    @Override
    public List<String> broken() {
        return List.copyOf(broken);
    }

    @Override
    public long lastLine() {
        return reader.lastLine();
    }

    @Override
    public Optional<RawForm> raw() {
        return writing.escaped()
                ? Optional.empty()
                : RawForm.of(writing.charset(), writing.delimiter(), writing.quote(), nothing, named, names);
    }

    @Override
    public Optional<Writing> writing() {
        return Optional.of(writing);
    }

    @Override
    public void add(int field, Column into) {
        // What was quoted is no NULL, even if it reads like one.
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
}
