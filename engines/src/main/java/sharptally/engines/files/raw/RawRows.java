package sharptally.engines.files.raw;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.rows.Column;
import sharptally.engines.files.text.RowsOfFile;
import sharptally.engines.files.write.Writing;

/**
 * Records as rows, each field taken as the bytes that it is. Where the records can't be told apart in this way, those from
 * there on come from the reader that can, or that tells what is wrong.
 */
public final class RawRows implements RowsOfFile {
    private static final int LARGE = 1 << 16;

    private final RowsOfFile like;
    private final RawForm form;
    private final Supplier<RowsOfFile> reader;
    private final RawRecords records;
    private final boolean isUtf8;
    private Optional<RowsOfFile> others = Optional.empty();
    private long passed;

    /** Adds a field's bytes to a column. */
    private final class Adding implements RawRecords.Bytes {
        private Column into = new Column(0);

        @Override
        public long of(byte[] bytes, int from, int length) {
            if (!isUtf8 && hasHigh(bytes, from, length)) {
                into.addText(new String(bytes, from, length, charset()));
            } else if (length > LARGE) {
                // Large values are not copied by a column, so that they can't stand in what is used again.
                into.addText(Arrays.copyOfRange(bytes, from, from + length), 0, length);
            } else {
                into.addText(bytes, from, length);
            }
            return length;
        }

        private Charset charset() {
            return form.charset();
        }

        private static boolean hasHigh(byte[] bytes, int from, int length) {
            for (int i = from; i < from + length; i++) {
                if (bytes[i] < 0) {
                    return true;
                }
            }
            return false;
        }
    }

    private final Adding adding = new Adding();

    /**
     * @param like has read the names; it is closed here
     * @param reader the same from the begin of the file
     */
    public RawRows(Path file, RowsOfFile like, RawForm form, Supplier<RowsOfFile> reader) {
        like.close();
        this.like = like;
        this.form = form;
        this.reader = reader;
        this.isUtf8 =
                form.charset().equals(StandardCharsets.UTF_8) || form.charset().equals(StandardCharsets.US_ASCII);
        this.records = new RawRecords(file, form);
    }

    @Override
    public List<String> names() {
        return like.names();
    }

    @Override
    public Map<String, String> facts() {
        return like.facts();
    }

    @Override
    public Optional<Writing> writing() {
        return like.writing();
    }

    @Override
    public Optional<RawForm> raw() {
        return like.raw();
    }

    @Override
    public boolean next() {
        if (others.isEmpty()) {
            if (records.advance()) {
                passed++;
                return true;
            }
            if (!records.isIrregular()) {
                return false;
            }
            RowsOfFile all = reader.get();
            others = Optional.of(all);
            for (long row = 0; row < passed; row++) {
                all.next();
            }
        }
        return others.get().next();
    }

    @Override
    public boolean hasPlace() {
        return others.isEmpty();
    }

    @Override
    public RawRecords.Place place() {
        return records.place();
    }

    @Override
    public long line() {
        return others.map(RowsOfFile::line).orElseGet(records::line);
    }

    @Override
    public long lastLine() {
        return others.map(RowsOfFile::lastLine).orElseGet(records::lastLine);
    }

    @Override
    public List<String> broken() {
        return List.of();
    }

    @Override
    public void add(int field, Column into) {
        if (others.isPresent()) {
            others.get().add(field, into);
        } else if (records.isNull(field)) {
            into.addNull();
        } else {
            adding.into = into;
            records.of(field, adding);
        }
    }

    @Override
    public void close() {
        others.ifPresent(RowsOfFile::close);
        records.close();
    }
}
