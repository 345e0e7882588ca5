package sharptally.core.rows;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import sharptally.core.types.Value;

/**
 * Some consecutive rows of one side, column by column: as they were read and, where that is another column, as they are
 * compared. Not changed once it has been handed on, but for cells that are made from the images of their rows when they
 * are first asked for; so it is used by one thread at a time.
 */
public final class RowBatch {
    private final Column[] columns;
    private final Column[] compared;
    private final int rows;
    private final Optional<RowImages> images;
    private boolean decoded;

    /** Every column must have {@code rows} cells. */
    public RowBatch(List<Column> columns, int rows) {
        this(columns.toArray(new Column[0]), new Column[0], rows, Optional.empty());
    }

    private RowBatch(Column[] columns, Column[] compared, int rows, Optional<RowImages> images) {
        this.columns = columns;
        this.compared = compared;
        this.rows = rows;
        this.images = images;
        for (Column column : columns) {
            if (column != null && column.size() != rows || column == null && images.isEmpty()) {
                throw new IllegalStateException("a column does not have " + rows + " cells");
            }
        }
        decoded = Arrays.stream(columns).noneMatch(Objects::isNull);
    }

    /**
     * Rows with their images.
     *
     * @param columns {@code null} for those that are made from the images when they are asked for
     */
    public static RowBatch of(Column[] columns, RowImages images) {
        return new RowBatch(columns, new Column[0], images.rows(), Optional.of(images));
    }

    /** The same rows for another thread; of one that was handed on to nobody yet. */
    public RowBatch another() {
        return new RowBatch(columns.clone(), compared, rows, images);
    }

    /**
     * The same rows, with columns as they are compared.
     *
     * @param forms per column, what it is compared as; {@code null} where that is the column as read
     */
    public RowBatch comparedAs(Column[] forms) {
        return new RowBatch(columns, forms, rows, images);
    }

    public int rows() {
        return rows;
    }

    /** About how many bytes its text, bytes and images take. */
    public long bytes() {
        long bytes = images.map(RowImages::size).orElse(0);
        for (Column column : columns) {
            bytes += column == null ? 0 : column.arenaSize();
        }
        return bytes;
    }

    /** A column as read. */
    public Column column(int index) {
        if (columns[index] == null) {
            decode();
        }
        return columns[index];
    }

    /** A column as it is compared. */
    public Column compared(int index) {
        return index < compared.length && compared[index] != null ? compared[index] : column(index);
    }

    /** All columns as read. */
    public List<Column> columns() {
        decode();
        return List.of(columns);
    }

    /** Whether there are cells of all columns already. */
    public boolean isDecoded() {
        return decoded;
    }

    /** Makes the cells of all columns that were left out. */
    public void decode() {
        if (isDecoded()) {
            return;
        }
        RowImages from = images.orElseThrow();
        Column[] all = RowCodec.emptyColumns(columns.length, rows).toArray(new Column[0]);
        for (int row = 0; row < rows; row++) {
            from.decode(row, all);
        }
        System.arraycopy(all, 0, columns, 0, all.length);
        decoded = true;
    }

    /** Some of the rows, with the cells of all columns. */
    public RowBatch only(int... wanted) {
        Column[] cells;
        if (isDecoded()) {
            cells = only(columns, wanted);
        } else {
            cells = RowCodec.emptyColumns(columns.length, wanted.length).toArray(new Column[0]);
            for (int row : wanted) {
                images.orElseThrow().decode(row, cells);
            }
        }
        return new RowBatch(cells, only(compared, wanted), wanted.length, Optional.empty());
    }

    private static Column[] only(Column[] columns, int[] wanted) {
        Column[] some = new Column[columns.length];
        for (int i = 0; i < some.length; i++) {
            if (columns[i] != null) {
                some[i] = new Column(wanted.length);
                for (int row : wanted) {
                    some[i].addCellOf(columns[i], row);
                }
            }
        }
        return some;
    }

    /** Whether both sides sent the same bytes for a row; false as well where nothing is known of what they sent. */
    public boolean sameImage(int row, RowBatch other, int otherRow) {
        return images.isPresent() && other.images.isPresent() && images.get().same(row, other.images.get(), otherRow);
    }

    /** All values of one row, in column order. */
    public List<Value> row(int row) {
        decode();
        List<Value> values = new ArrayList<>(columns.length);
        for (Column column : columns) {
            values.add(column.value(row));
        }
        return values;
    }
}
