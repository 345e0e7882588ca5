package sharptally.core.compare.record;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.function.LongConsumer;
import sharptally.core.compare.stream.RowMerge;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Records;
import sharptally.core.place.part.Seek;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.Prefetch;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * Read in whatever order they come, and hashed in the forms in which they are compared. Rows are found again by where they
 * stand in a file, by ranges of their key in a database, else among all of them by the hash of their key.
 */
final class ValueSide implements HashedSide {
    private static final int RANGES_AT_ONCE = 64;
    private static final int FIRST_ROWS_PER_MARK = 256;
    private static final int MAX_MARKS = 1 << 16;

    private final TableMatch match;
    private final Side side;
    private final StreamComparison stream;
    private final ReadRequest all;
    private final Optional<Records> records;
    private final boolean seeks;
    private int rowsPerMark = FIRST_ROWS_PER_MARK;
    /** Number and key of every so many rows, where rows are found by ranges. */
    private final List<Long> starts = new ArrayList<>();

    private final List<List<Value>> firsts = new ArrayList<>();
    private Optional<RowHashing> hashing = Optional.empty();

    /**
     * @param stream how the side is read
     */
    ValueSide(TableMatch match, Side side, StreamComparison stream) {
        this.match = match;
        this.side = side;
        this.stream = stream;
        List<ColumnShape> columns = match.pairs().stream()
                .map(p -> side == Side.SOURCE ? p.source() : p.target())
                .toList();
        ReadRequest byKey = stream.request(side, columns);
        Place place = stream.places().of(side);
        this.records = place.records();
        this.seeks = StreamComparison.comesByKey(byKey)
                && place.seeking()
                        .filter(s -> s.seek(byKey.table(), byKey.orderBy()) == Seek.BY_INDEX)
                        .isPresent();
        // Where rows are not found by ranges of the key, their order is of no use.
        this.all = seeks ? byKey : new ReadRequest(byKey.table(), columns, List.of());
    }

    @Override
    public boolean hash(RecordHash hash, RecordSpill into, LongConsumer news) {
        RowHashing of = new RowHashing(match, side, new RowMerge(match, stream.context()), hash);
        hashing = Optional.of(of);
        RowSource read = records.flatMap(r -> r.all(all)).orElseGet(() -> stream.read(side, all));
        long told = 0;
        try (RowSource rows = new Prefetch(
                read, side + "-" + all.table().name(), stream.context().stopAsked())) {
            for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                if (seeks) {
                    mark(batch.get(), into.rows());
                }
                of.hash(batch.get(), into);
                if (into.rows() - told >= RecordComparison.ROWS_PER_NEWS) {
                    told = into.rows();
                    news.accept(told);
                }
            }
        }
        return true;
    }

    /** Keeps the keys of some rows in mind, evenly, and not more than so many. */
    private void mark(RowBatch batch, long first) {
        for (int row = (int) (-first & rowsPerMark - 1); row < batch.rows(); row += rowsPerMark) {
            int at = row;
            starts.add(first + row);
            firsts.add(match.key().stream().map(k -> batch.column(k).value(at)).toList());
        }
        while (starts.size() > MAX_MARKS) {
            rowsPerMark *= 2;
            for (int i = 0; i < (starts.size() + 1) / 2; i++) {
                starts.set(i, starts.get(2 * i));
                firsts.set(i, firsts.get(2 * i));
            }
            starts.subList((starts.size() + 1) / 2, starts.size()).clear();
            firsts.subList(starts.size(), firsts.size()).clear();
        }
    }

    private boolean marked() {
        return records.map(Records::areMarked).orElse(false);
    }

    @Override
    public boolean goesByKey() {
        return !marked();
    }

    @Override
    public RowSource only(ReadRequest request, Left left) {
        if (marked()) {
            return records.orElseThrow().only(request, left.rows());
        }
        ReadRequest wanted = new ReadRequest(request.table(), request.columns(), all.orderBy());
        return new Wanted(wanted, left, seeks ? ranges(left.rows()) : List.of());
    }

    /** The parts of the key that hold the rows. */
    private List<KeyRange> ranges(BitSet rows) {
        List<KeyRange> ranges = new ArrayList<>();
        for (int i = 0; i < starts.size(); i++) {
            boolean last = i == starts.size() - 1;
            int next = rows.nextSetBit(Math.toIntExact(starts.get(i)));
            if (next >= 0 && (last || next < starts.get(i + 1))) {
                ranges.add(new KeyRange(firsts.get(i), last ? List.of() : firsts.get(i + 1)));
            }
        }
        return KeyRange.joined(ranges);
    }

    /**
     * Rows by the hashes of their keys: in some ranges first, and where not all of them are there, which is when the database
     * orders in another way than it finds, or lost some of them since, among all others.
     */
    private final class Wanted implements RowSource {
        private final ReadRequest request;
        private final Left left;
        private final List<KeyRange> ranges;
        private final BitSet found = new BitSet();
        /** Those that were found before all were read. */
        private BitSet passed = new BitSet();

        private int nextRange;
        private boolean readsAll;
        private volatile boolean closed;
        private volatile Optional<RowSource> rows = Optional.empty();

        Wanted(ReadRequest request, Left left, List<KeyRange> ranges) {
            this.request = request;
            this.left = left;
            this.ranges = ranges;
        }

        /** The rows that are to be looked through next. */
        private Optional<RowSource> opened() {
            if (nextRange < ranges.size()) {
                List<KeyRange> some = ranges.subList(nextRange, Math.min(ranges.size(), nextRange + RANGES_AT_ONCE));
                nextRange += some.size();
                return Optional.of(stream.read(side, request.within(some)));
            }
            boolean complete = seeks && found.cardinality() == left.keys().length;
            if (readsAll || complete) {
                return Optional.empty();
            }
            readsAll = true;
            passed = (BitSet) found.clone();
            return Optional.of(stream.read(side, request));
        }

        private boolean isWanted(long key) {
            int place = Arrays.binarySearch(left.keys(), key);
            if (place >= 0) {
                found.set(place);
            }
            return place >= 0 && !passed.get(place);
        }

        @Override
        public Optional<RowBatch> next() {
            while (!closed) {
                rows = rows.or(this::opened);
                if (rows.isEmpty()) {
                    return Optional.empty();
                }
                Optional<RowBatch> batch = rows.get().next();
                if (batch.isEmpty()) {
                    records.ifPresent(Records::unchanged);
                    rows.get().close();
                    rows = Optional.empty();
                    continue;
                }
                int[] wanted = hashing.orElseThrow().wanted(batch.get(), this::isWanted);
                if (wanted.length > 0) {
                    return Optional.of(batch.get().only(wanted));
                }
            }
            // Whoever closed this did not see rows that were opened meanwhile.
            rows.ifPresent(RowSource::close);
            return Optional.empty();
        }

        @Override
        public void close() {
            closed = true;
            rows.ifPresent(RowSource::close);
        }
    }
}
