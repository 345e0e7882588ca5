package sharptally.engines.files;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.BooleanSupplier;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Records;
import sharptally.core.rows.Column;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.files.raw.RawForm;
import sharptally.engines.files.raw.RawRecords;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.RowsOfFile;
import sharptally.engines.files.text.Unpacked;

/** The records of text files. Files that change between the two times that they are gone through are an error. */
final class FileRecords implements Records {
    private static final int ROWS_PER_MARK = 512;

    private final FileKind kind;
    private final FileForm form;
    private final FileTables tables;
    private List<FileState> states = List.of();
    private List<Marks> marks = List.of();
    private BooleanSupplier areMarked = () -> false;

    /** Where some of a file's records begin, one in so many; {@code first} is the number of its first row. */
    private record Marks(long first, List<RawRecords.Place> places) {}

    FileRecords(FileKind kind, FileForm form, FileTables tables) {
        this.kind = kind;
        this.form = form;
        this.tables = tables;
    }

    private List<Path> files(TableShape table) {
        return tables.called(table.name().name()).files();
    }

    private Optional<RawForm> form(Path file) {
        try (RowsOfFile rows = kind.open(file, form)) {
            return rows.raw();
        }
    }

    @Override
    public String writtenIn(TableShape table) {
        return isWhole(table)
                ? form(files(table).get(0)).map(f -> f.charset().name()).orElse("")
                : "";
    }

    @Override
    public boolean hash(TableShape table, Hashing hashing, BooleanSupplier stop, Taking taking) {
        List<FileState> seen = new ArrayList<>();
        List<Marks> marked = new ArrayList<>();
        long rows = 0;
        String charset = writtenIn(table);
        for (Path file : files(table)) {
            FileState state = FileState.of(file);
            Optional<RawForm> raw = form(file).filter(f -> f.charset().name().equals(charset));
            if (raw.isEmpty() || !raw.get().names().containsAll(hashing.columns())) {
                return false;
            }
            try (RawRecords records = new RawRecords(file, raw.get())) {
                Marks marksOfFile = new Marks(rows, new ArrayList<>());
                marked.add(marksOfFile);
                rows += hash(records, raw.get(), hashing, taking, new Passing(marksOfFile, stop));
                if (records.isIrregular() || stop.getAsBoolean()) {
                    return false;
                }
            }
            state.check();
            seen.add(state);
        }
        states = seen;
        marks = marked;
        areMarked = () -> true;
        return true;
    }

    /** Keeps in mind where rows are that are read. */
    private final class Marking implements FileRows.Noting {
        private final List<FileState> seen = new ArrayList<>();
        private final List<Marks> marked = new ArrayList<>();
        private boolean complete = true;
        private long rows;
        private long ofFile;

        @Override
        public void broken(String where) {
            complete = false;
        }

        @Override
        public void opened(FileState file) {
            seen.add(file);
            marked.add(new Marks(rows, new ArrayList<>()));
            ofFile = 0;
        }

        @Override
        public void at(RowsOfFile of) {
            complete &= of.hasPlace();
            if (complete && ofFile++ % ROWS_PER_MARK == 0) {
                marked.get(marked.size() - 1).places.add(of.place());
            }
            rows++;
        }
    }

    @Override
    public Optional<RowSource> all(ReadRequest request) {
        if (!isWhole(request.table())
                || request.columns().stream().anyMatch(c -> c.expression().isPresent())) {
            return Optional.empty();
        }
        Marking marking = new Marking();
        states = marking.seen;
        marks = marking.marked;
        areMarked = () -> marking.complete;
        FileTable table = tables.called(request.table().name().name());
        return Optional.of(new FileRows(
                kind,
                form,
                table,
                new FileRows.Wanted(names(request), readsPosition(request), 0, OptionalLong.empty()),
                marking));
    }

    /** Whether all its records are its rows, and none may be passed over. */
    private boolean isWhole(TableShape table) {
        return table.query().isEmpty() && table.filters().isEmpty() && form.brokenAllowed() == 0;
    }

    @Override
    public void unchanged() {
        states.forEach(FileState::check);
    }

    @Override
    public boolean areMarked() {
        return areMarked.getAsBoolean();
    }

    private static boolean readsPosition(ReadRequest request) {
        return request.table().position().filter(request.columns()::contains).isPresent();
    }

    /** Of the columns but that which tells the position. */
    private static List<String> names(ReadRequest request) {
        return request.columns().stream()
                .filter(c -> !request.table().position().equals(Optional.of(c)))
                .map(ColumnShape::name)
                .toList();
    }

    private record Passing(Marks marks, BooleanSupplier stop) {
        /** Whether to go on, at every so many rows. */
        boolean pass(long row, RawRecords records) {
            if (row % ROWS_PER_MARK != 0) {
                return true;
            }
            marks.places.add(records.place());
            return !stop.getAsBoolean();
        }
    }

    /** How many records there were. */
    private static long hash(RawRecords records, RawForm form, Hashing hashing, Taking taking, Passing passing) {
        RecordHash hash = hashing.hash();
        int[] fields =
                hashing.columns().stream().mapToInt(form.names()::indexOf).toArray();
        boolean[] isKey = new boolean[fields.length];
        hashing.key().forEach(i -> isKey[i] = true);
        RawRecords.Bytes ofField = hash::ofField;
        long rows = 0;
        while (records.advance() && passing.pass(rows++, records)) {
            long row = 0;
            long key = 0;
            boolean hasKey = true;
            for (int i = 0; i < fields.length; i++) {
                boolean isNull = records.isNull(fields[i]);
                long field = isNull ? RecordHash.NULL : records.of(fields[i], ofField);
                row += hash.inRow(i, field);
                if (isKey[i]) {
                    key += hash.inKey(i, field);
                    hasKey &= !isNull || hashing.nullable();
                }
            }
            if (hasKey) {
                taking.take(key, row);
            } else {
                taking.takeWithoutKey();
            }
        }
        return rows;
    }

    @Override
    public RowSource only(ReadRequest request, BitSet rows) {
        states.forEach(FileState::check);
        return new Chosen(files(request.table()), names(request), readsPosition(request), rows);
    }

    /** Takes some of the records out of the files, and reads these as ever. */
    private final class Chosen implements RowSource {
        private static final int ROWS_PER_BATCH = 1_024;
        private static final int MAX_BATCH_BYTES = 1 << 20;

        private final Iterator<Path> files;
        private final List<String> columns;
        private final boolean positions;
        private final BitSet wanted;
        private Optional<Open> open = Optional.empty();
        private int row;
        private boolean closed;

        private int file;

        private record Open(Path file, RawForm form, RawRecords records, Marks marks) {}

        Chosen(List<Path> files, List<String> columns, boolean positions, BitSet wanted) {
            this.files = files.iterator();
            this.columns = columns;
            this.positions = positions;
            this.wanted = wanted;
        }

        @Override
        public synchronized Optional<RowBatch> next() {
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            long[] lines = new long[ROWS_PER_BATCH];
            int rows = 0;
            while (!closed && rows < ROWS_PER_BATCH && bytes.size() < MAX_BATCH_BYTES && wanted.nextSetBit(row) >= 0) {
                Open from = jumped(open.orElseGet(this::opened));
                if (from.records.advance()) {
                    if (wanted.get(row++)) {
                        lines[rows++] = from.records.line();
                        take(from, bytes);
                    }
                } else if (rows > 0) {
                    // The next file may be written otherwise.
                    break;
                } else {
                    from.records.close();
                    open = Optional.empty();
                }
            }
            if (rows == 0) {
                states.forEach(FileState::check);
                return Optional.empty();
            }
            return Optional.of(read(open.orElseThrow(), bytes.toByteArray(), Arrays.copyOf(lines, rows)));
        }

        private Open opened() {
            if (!files.hasNext()) {
                throw new IllegalStateException("row " + wanted.nextSetBit(row) + " is in no file");
            }
            Path next = files.next();
            RawForm raw = form(next).orElseThrow();
            Open opened = new Open(next, raw, new RawRecords(next, raw), marks.get(file++));
            open = Optional.of(opened);
            return opened;
        }

        private static void take(Open from, ByteArrayOutputStream bytes) {
            try {
                from.records.writeTo(bytes);
                bytes.write('\n');
            } catch (IOException e) {
                throw FileProblem.of(from.file, e);
            }
        }

        /** Past records of which none is wanted, where the file is one in which that is cheap. */
        private Open jumped(Open from) {
            long wantedInFile = wanted.nextSetBit(row) - from.marks.first;
            int mark = (int) Math.min(wantedInFile / ROWS_PER_MARK, from.marks.places.size() - 1L);
            long target = from.marks.first + (long) mark * ROWS_PER_MARK;
            boolean packed =
                    !Unpacked.ending(from.file.getFileName().toString()).isEmpty();
            if (packed || mark < 0 || target <= row) {
                return from;
            }
            from.records.close();
            row = (int) target;
            Open there = new Open(
                    from.file,
                    from.form,
                    new RawRecords(from.file, from.form, from.marks.places.get(mark)),
                    from.marks);
            open = Optional.of(there);
            return there;
        }

        private RowBatch read(Open from, byte[] bytes, long[] lines) {
            List<Column> batch = RowCodec.emptyColumns(columns.size() + (positions ? 1 : 0), lines.length);
            try (RowsOfFile rows = kind.openRecords(from.file, bytes, from.form)) {
                int[] fields = columns.stream().mapToInt(rows.names()::indexOf).toArray();
                for (long line : lines) {
                    if (!rows.next()) {
                        throw FileProblem.at(from.file, line, "a record that is there no more", "compare again");
                    }
                    for (int i = 0; i < fields.length; i++) {
                        rows.add(fields[i], batch.get(i));
                    }
                    if (positions) {
                        batch.get(fields.length).addText(from.file.getFileName() + ":" + line);
                    }
                }
            }
            return new RowBatch(batch, lines.length);
        }

        @Override
        public synchronized void close() {
            closed = true;
            open.ifPresent(o -> o.records.close());
            open = Optional.empty();
        }
    }
}
