package sharptally.core.compare.stream;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import sharptally.core.place.Side;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.rule.RuleSet;
import sharptally.core.types.Value;

/**
 * Steps through the rows of one side, looks one row ahead, and checks on the way that the rows come in key order. Used
 * by one thread.
 */
final class RowCursor implements AutoCloseable {
    private static final RowBatch NOTHING = new RowBatch(List.of(), 0);
    /** When more than one row of so many is looked into, all of them are decoded at once. */
    private static final int ROWS_PER_DECODED = 16;

    private final RowSource source;
    private final Side side;
    private final int[] keyColumns;
    private final List<Optional<UnaryOperator<Column>>> lateCasts;
    private final List<RuleSet> rules;
    private final boolean ordered;
    private final int positionColumn;
    private RowBatch batch = NOTHING;
    private RowBatch ahead = NOTHING;
    private int row;
    private RowBatch cells = NOTHING;
    private int cell = -1;
    private int decodedAlone;
    private boolean nextHasSameKey;
    private long rowsPassed;

    /**
     * @param source batches as {@link CastingSource} makes them
     * @param keyColumns places, among the compared columns, of the key
     * @param lateCasts per compared column, the cast that was not made while reading
     * @param rules per compared column
     * @param ordered whether rows must come in key order; else they are taken one by one, as they come
     * @param positionColumn place of the column that tells where a row stands, behind all others; negative for none
     */
    RowCursor(
            RowSource source,
            Side side,
            int[] keyColumns,
            List<Optional<UnaryOperator<Column>>> lateCasts,
            List<RuleSet> rules,
            boolean ordered,
            int positionColumn) {
        this.positionColumn = positionColumn;
        this.source = source;
        this.ordered = ordered;
        this.rules = rules;
        this.side = side;
        this.keyColumns = keyColumns;
        this.lateCasts = lateCasts;
        ahead = source.next().orElse(NOTHING);
        if (ordered) {
            // All of the first rows, before the other side's are taken for extra ones up to where these begin.
            checkOrder(ahead);
        }
        row = -1;
        advance();
    }

    /** Whether there is a row here. */
    boolean hasRow() {
        return batch != NOTHING;
    }

    /** Whether there is no row of this side here, where rows of both sides stand beside each other. */
    boolean isAbsent() {
        return batch.column(keyColumns[0]).isNull(row);
    }

    /** Whether the row after this one exists and has the same key. */
    boolean nextHasSameKey() {
        return nextHasSameKey;
    }

    /** Rows that were stepped past. */
    long rowsPassed() {
        return rowsPassed;
    }

    void advance() {
        if (hasRow()) {
            rowsPassed++;
        }
        row++;
        cell = -1;
        if (row >= batch.rows()) {
            decodedAlone = 0;
            batch = ahead;
            ahead = NOTHING;
            row = 0;
        }
        if (hasRow()) {
            lookAhead();
        }
    }

    private void lookAhead() {
        RowBatch nextBatch = batch;
        int next = row + 1;
        if (next == batch.rows()) {
            Optional<RowBatch> loaded = source.next();
            if (loaded.isEmpty()) {
                nextHasSameKey = false;
                return;
            }
            ahead = loaded.get();
            nextBatch = ahead;
            next = 0;
        }
        if (!ordered) {
            return;
        }
        int c = compareKeys(batch, row, nextBatch, next);
        if (c > 0) {
            throw new OutOfOrder(side);
        }
        nextHasSameKey = c == 0;
    }

    private void checkOrder(RowBatch rows) {
        for (int i = 1; i < rows.rows(); i++) {
            if (compareKeys(rows, i - 1, rows, i) > 0) {
                throw new OutOfOrder(side);
            }
        }
    }

    private int compareKeys(RowBatch one, int oneRow, RowBatch other, int otherRow) {
        for (int k : keyColumns) {
            int c = CellOrder.compare(one.compared(k), oneRow, other.compared(k), otherRow);
            if (c != 0) {
                return c;
            }
        }
        return 0;
    }

    int compareKey(RowCursor other) {
        return compareKeys(batch, row, other.batch, other.row);
    }

    /** Whether both sides sent the same bytes for this row, so that it is the same throughout. */
    boolean isSameImage(RowCursor other) {
        return batch.sameImage(row, other.batch, other.row);
    }

    /** Finds the cells of the current row. */
    private RowBatch cells() {
        if (cell < 0) {
            cells = batch;
            cell = row;
            if (!batch.isDecoded() && ++decodedAlone <= batch.rows() / ROWS_PER_DECODED) {
                cells = batch.only(row);
                cell = 0;
            }
        }
        return cells;
    }

    private boolean isSameCell(Column one, RowCursor other, Column there) {
        return CellOrder.same(one, cell, there, other.cell);
    }

    /**
     * Whether a column has the same value here and there. First as read: with one type on both sides, equal cells are
     * equal values. Only where they differ, and a difference may be of form, are they brought to one form.
     */
    boolean isSame(int pair, RowCursor other) {
        return isSameCell(cells().compared(pair), other, other.cells().compared(pair))
                || lateCasts.get(pair).isPresent()
                        && CellOrder.same(keep().cast(pair), 0, other.keep().cast(pair), 0);
    }

    /** Whether a column holds the same here and there before anything is translated. */
    boolean isSameAsRead(int pair, RowCursor other) {
        return isSameCell(cells().column(pair), other, other.cells().column(pair));
    }

    /** The rules that hold a column's values here and there equal; empty where they differ by the rules too. */
    Optional<String> holding(int pair, RowCursor other) {
        RuleSet set = rules.get(pair);
        return set.isEmpty()
                ? Optional.empty()
                : set.holding(
                        keep().cast(pair).value(0), other.keep().cast(pair).value(0));
    }

    /** What the side itself holds. */
    Value value(int column) {
        return cells().column(column).value(cell);
    }

    List<Value> key() {
        Value[] key = new Value[keyColumns.length];
        for (int i = 0; i < key.length; i++) {
            key[i] = batch.column(keyColumns[i]).value(row);
        }
        return List.of(key);
    }

    List<Value> wholeRow() {
        return keep().values();
    }

    /** Where the current row stands. */
    Optional<String> position() {
        return keep().position();
    }

    /** The current row, to be kept while the cursor moves on. */
    Row keep() {
        RowBatch kept = cells();
        return new Row(kept, cell);
    }

    @Override
    public void close() {
        source.close();
    }

    /** A row that stays readable. */
    final class Row {
        private final RowBatch batch;
        private final int row;

        Row(RowBatch batch, int row) {
            this.batch = batch;
            this.row = row;
        }

        List<Value> values() {
            List<Value> all = batch.row(row);
            return positionColumn < 0 ? all : all.subList(0, positionColumn);
        }

        Optional<String> position() {
            return positionColumn < 0 || batch.column(positionColumn).isNull(row)
                    ? Optional.empty()
                    : Optional.of(batch.column(positionColumn).text(row));
        }

        List<Value> key() {
            return Arrays.stream(keyColumns)
                    .mapToObj(k -> batch.column(k).value(row))
                    .toList();
        }

        private Column cast(int pair) {
            Column column = batch.compared(pair);
            Column cell = new Column(1);
            cell.addCellOf(column, row);
            return lateCasts.get(pair).map(cast -> cast.apply(cell)).orElse(cell);
        }

        /** Orders rows of either side by all compared columns. */
        int compareWhole(Row other) {
            for (int i = 0; i < lateCasts.size(); i++) {
                RuleSet set = rules.get(i);
                int c = CellOrder.compare(set.loosened(cast(i)), 0, set.loosened(other.cast(i)), 0);
                if (c != 0) {
                    return c;
                }
            }
            return 0;
        }
    }
}
