package sharptally.spark.lake;

import java.io.Serializable;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.apache.spark.sql.catalyst.InternalRow;
import org.apache.spark.sql.types.BinaryType;
import org.apache.spark.sql.types.BooleanType;
import org.apache.spark.sql.types.ByteType;
import org.apache.spark.sql.types.DataType;
import org.apache.spark.sql.types.DateType;
import org.apache.spark.sql.types.DecimalType;
import org.apache.spark.sql.types.DoubleType;
import org.apache.spark.sql.types.FloatType;
import org.apache.spark.sql.types.IntegerType;
import org.apache.spark.sql.types.LongType;
import org.apache.spark.sql.types.ShortType;
import org.apache.spark.sql.types.StringType;
import org.apache.spark.sql.types.StructType;
import org.apache.spark.sql.types.TimestampNTZType;
import org.apache.spark.sql.types.TimestampType;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowCodec;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;

/** Rows as Spark hands them to its own operators, in the columns of the core. Used by one thread. */
public final class LakeRows implements RowSource {
    private static final int ROWS_PER_BATCH = 2_048;
    private static final long BYTES_PER_BATCH = 4L << 20;

    private final Iterator<InternalRow> rows;
    private final List<Cell> cells;
    private final List<Optional<Cast>> casts;
    private volatile boolean closed;

    /** Takes the value of one column, which is not NULL. */
    private interface Cell extends Serializable {
        void add(InternalRow row, Column into);
    }

    /**
     * @param read columns of the rows, as they come
     * @param columns the same as they are described
     */
    public LakeRows(Iterator<InternalRow> rows, StructType read, List<ColumnShape> columns) {
        this.rows = rows;
        this.cells = IntStream.range(0, read.size())
                .mapToObj(i -> cell(i, read.apply(i).dataType()))
                .toList();
        this.casts = columns.stream()
                .map(c -> Cast.ofWriting(c.type().orElseThrow()))
                .toList();
    }

    private static Cell cell(int i, DataType type) {
        if (type instanceof LongType) {
            return (row, into) -> into.addInt(row.getLong(i));
        } else if (type instanceof IntegerType) {
            return (row, into) -> into.addInt(row.getInt(i));
        } else if (type instanceof ShortType) {
            return (row, into) -> into.addInt(row.getShort(i));
        } else if (type instanceof ByteType) {
            return (row, into) -> into.addInt(row.getByte(i));
        } else if (type instanceof DecimalType decimal) {
            return (row, into) ->
                    LakeCells.decimal(row.getDecimal(i, decimal.precision(), decimal.scale()), decimal, into);
        } else if (type instanceof BooleanType) {
            return (row, into) -> into.addBoolean(row.getBoolean(i));
        } else if (type instanceof FloatType) {
            return (row, into) -> into.addFloat(row.getFloat(i));
        } else if (type instanceof DoubleType) {
            return (row, into) -> into.addDouble(row.getDouble(i));
        } else if (type instanceof BinaryType) {
            return (row, into) -> into.addBytes(row.getBinary(i));
        } else if (type instanceof DateType) {
            return (row, into) -> into.addDate(row.getInt(i));
        } else if (type instanceof TimestampType || type instanceof TimestampNTZType) {
            boolean instant = type instanceof TimestampType;
            return (row, into) -> LakeCells.time(row.getLong(i), instant, into);
        } else if (type instanceof StringType) {
            return (row, into) -> LakeCells.text(row.getUTF8String(i), into);
        }
        throw new IllegalStateException("a column is read as " + type);
    }

    @Override
    public Optional<RowBatch> next() {
        List<Column> columns = RowCodec.emptyColumns(cells.size(), ROWS_PER_BATCH);
        int count = 0;
        long bytes = 0;
        while (!closed && count < ROWS_PER_BATCH && bytes < BYTES_PER_BATCH && rows.hasNext()) {
            InternalRow row = rows.next();
            for (int i = 0; i < cells.size(); i++) {
                if (row.isNullAt(i)) {
                    columns.get(i).addNull();
                } else {
                    cells.get(i).add(row, columns.get(i));
                }
            }
            count++;
            if ((count & 63) == 0) {
                bytes = columns.stream().mapToLong(Column::arenaSize).sum();
            }
        }
        return count == 0 ? Optional.empty() : Optional.of(new RowBatch(read(columns), count));
    }

    private List<Column> read(List<Column> columns) {
        return IntStream.range(0, columns.size())
                .mapToObj(i -> casts.get(i).map(c -> c.apply(columns.get(i))).orElse(columns.get(i)))
                .toList();
    }

    @Override
    public void close() {
        closed = true;
    }
}
