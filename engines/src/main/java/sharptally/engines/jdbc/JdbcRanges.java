package sharptally.engines.jdbc;

import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Seek;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;

/** Ranges of keys in a database, found by its indexes where there are any. */
record JdbcRanges(PlaceSession session) implements RangeSeek {
    /** From so many rows on, asking for each bound by itself costs less than numbering all rows. */
    private static final long MANY = 50_000;

    /** How many keys of a sample are to be between two bounds: of 16, ranges vary by a quarter. */
    private static final int SAMPLED = 16;
    /** Ranges of fewer rows are not worth a sample. */
    private static final int WORTH_SAMPLING = 8 * SAMPLED;

    @Override
    public Seek seek(TableShape table, List<ColumnShape> key) {
        List<String> names = key.stream().map(ColumnShape::name).toList();
        boolean indexed = table.query().isEmpty()
                && table.keys().stream()
                        .map(KeyShape::columns)
                        .anyMatch(k -> k.size() >= names.size()
                                && k.subList(0, names.size()).equals(names));
        return key.stream()
                .map(c -> c.expression().isPresent()
                        ? Seek.NEVER
                        : session.engine().reading().seek(c))
                .map(s -> s == Seek.BY_INDEX && !indexed ? Seek.BY_SCAN : s)
                .max(Comparator.naturalOrder())
                .orElse(Seek.NEVER);
    }

    @Override
    public List<List<Value>> bounds(ReadRequest keys, long rowsPerRange) {
        List<List<Value>> bounds = new ArrayList<>();
        boolean numbered = rowsPerRange < MANY && session.engine().reading().indexServesRows();
        if (numbered || seek(keys.table(), keys.orderBy()) != Seek.BY_INDEX) {
            if (!numbersRows()) {
                AtomicLong rows = new AtomicLong();
                session.readAll(keys, key -> {
                    if (rows.getAndIncrement() % rowsPerRange == 0 && rows.get() > 1) {
                        bounds.add(key);
                    }
                });
            } else {
                TableShape rows = TableShape.ofQuery(
                        keys.table().name(), session.selects().bounds(keys, rowsPerRange), keys.columns());
                session.readAll(new ReadRequest(rows, keys.columns(), keys.orderBy()), bounds::add);
            }
        } else {
            ReadRequest next = keys.first(1).skipping(rowsPerRange);
            int before;
            do {
                before = bounds.size();
                session.readAll(next, bounds::add);
                if (bounds.size() > before) {
                    List<Value> to = keys.ranges().isEmpty()
                            ? List.of()
                            : keys.ranges().get(0).to();
                    next = next.within(List.of(new KeyRange(bounds.get(before), to)));
                }
            } while (bounds.size() > before);
        }
        bounds.removeIf(bound -> bound.contains(Value.NULL));
        return bounds;
    }

    @Override
    public List<List<Value>> roughBounds(ReadRequest keys, long rowsPerRange) {
        Optional<String> byChance = rowsPerRange < WORTH_SAMPLING
                ? Optional.empty()
                : session.engine().reading().byChance((double) SAMPLED / rowsPerRange);
        if (byChance.isEmpty()) {
            return bounds(keys, rowsPerRange);
        }
        TableShape some =
                TableShape.ofQuery(keys.table().name(), session.selects().some(keys, byChance.get()), keys.columns());
        List<List<Value>> bounds = new ArrayList<>();
        AtomicLong rows = new AtomicLong();
        session.readAll(new ReadRequest(some, keys.columns(), keys.orderBy()), key -> {
            boolean repeated =
                    !bounds.isEmpty() && bounds.get(bounds.size() - 1).equals(key);
            if (rows.incrementAndGet() % SAMPLED == 0 && !repeated && !key.contains(Value.NULL)) {
                bounds.add(key);
            }
        });
        return bounds;
    }

    private boolean numbersRows() {
        try {
            return session.engine().reading().numbersRows(session.connection().get());
        } catch (SQLException e) {
            throw session.failed("can't ask what this server knows", e);
        }
    }

    @Override
    public List<List<Value>> ends(ReadRequest keys) {
        List<List<Value>> ends = new ArrayList<>();
        session.readAll(keys.first(1), ends::add);
        TableShape last =
                TableShape.ofQuery(keys.table().name(), session.selects().last(keys), keys.columns());
        session.readAll(new ReadRequest(last, keys.columns(), List.of()), ends::add);
        return ends;
    }
}
