package sharptally.spark.lake;

import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.apache.spark.sql.execution.vectorized.WritableColumnVector;
import org.apache.spark.sql.types.BinaryType;
import org.apache.spark.sql.types.BooleanType;
import org.apache.spark.sql.types.ByteType;
import org.apache.spark.sql.types.DataType;
import org.apache.spark.sql.types.DateType;
import org.apache.spark.sql.types.Decimal;
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
import org.apache.spark.sql.vectorized.ColumnVector;
import org.apache.spark.sql.vectorized.ColumnarBatch;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;

/** Rows as files hold them, column by column, which spares making rows of them. Used by one thread. */
public final class LakeBatches implements RowSource {
    private final Iterator<ColumnarBatch> batches;
    private final List<DataType> types;
    private volatile boolean closed;

    /**
     * @param read columns of the batches, as they come
     */
    public LakeBatches(Iterator<ColumnarBatch> batches, StructType read) {
        this.batches = batches;
        this.types = IntStream.range(0, read.size())
                .mapToObj(i -> read.apply(i).dataType())
                .toList();
    }

    /** Whether columns of all these types can be taken so. */
    static boolean takes(StructType read) {
        return IntStream.range(0, read.size())
                .allMatch(i -> cell(read.apply(i).dataType(), false).isPresent());
    }

    @Override
    public Optional<RowBatch> next() {
        return nextVectors().map(batch -> rows(batch, all(batch)));
    }

    /**
     * The next rows that are wanted; maybe none of a batch. What is not wanted is not taken, but for some columns by which it is
     * chosen.
     *
     * @param first places of these columns
     * @param chooser gets rows of which only these columns hold anything, and tells which of them are wanted
     */
    public Optional<RowBatch> next(int[] first, Function<RowBatch, int[]> chooser) {
        return nextVectors().map(batch -> {
            int[] all = all(batch);
            Column none = new Column(all.length);
            for (int i = 0; i < all.length; i++) {
                none.addNull();
            }
            Column[] looked = new Column[types.size()];
            Arrays.fill(looked, none);
            for (int place : first) {
                looked[place] = column(batch.column(place), types.get(place), all);
            }
            return rows(batch, chooser.apply(new RowBatch(List.of(looked), all.length)));
        });
    }

    private Optional<ColumnarBatch> nextVectors() {
        while (!closed && batches.hasNext()) {
            ColumnarBatch batch = batches.next();
            if (batch.numRows() > 0) {
                return Optional.of(batch);
            }
        }
        return Optional.empty();
    }

    private static int[] all(ColumnarBatch batch) {
        return IntStream.range(0, batch.numRows()).toArray();
    }

    private RowBatch rows(ColumnarBatch batch, int... rows) {
        return new RowBatch(
                IntStream.range(0, types.size())
                        .mapToObj(i -> column(batch.column(i), types.get(i), rows))
                        .toList(),
                rows.length);
    }

    private static Column column(ColumnVector from, DataType type, int... rows) {
        Column into = new Column(rows.length);
        Cell cell = cell(type, from instanceof WritableColumnVector).orElseThrow();
        for (int row : rows) {
            if (from.isNullAt(row)) {
                into.addNull();
            } else {
                cell.add(from, row, into);
            }
        }
        return into;
    }

    /** Takes a value that is not NULL. */
    private interface Cell {
        void add(ColumnVector from, int row, Column into);
    }

    /**
     * @param plain whether decimals of few digits are held as numbers
     */
    private static Optional<Cell> cell(DataType type, boolean plain) {
        Cell cell = null;
        if (type instanceof LongType) {
            cell = (from, row, into) -> into.addInt(from.getLong(row));
        } else if (type instanceof IntegerType) {
            cell = (from, row, into) -> into.addInt(from.getInt(row));
        } else if (type instanceof ShortType) {
            cell = (from, row, into) -> into.addInt(from.getShort(row));
        } else if (type instanceof ByteType) {
            cell = (from, row, into) -> into.addInt(from.getByte(row));
        } else if (type instanceof BooleanType) {
            cell = (from, row, into) -> into.addBoolean(from.getBoolean(row));
        } else if (type instanceof DecimalType decimal) {
            cell = decimal(decimal, plain);
        } else if (type instanceof FloatType) {
            cell = (from, row, into) -> into.addFloat(from.getFloat(row));
        } else if (type instanceof DoubleType) {
            cell = (from, row, into) -> into.addDouble(from.getDouble(row));
        } else if (type instanceof DateType) {
            cell = (from, row, into) -> into.addDate(from.getInt(row));
        } else if (type instanceof TimestampType || type instanceof TimestampNTZType) {
            boolean instant = type instanceof TimestampType;
            cell = (from, row, into) -> LakeCells.time(from.getLong(row), instant, into);
        } else if (type instanceof StringType) {
            cell = (from, row, into) -> LakeCells.text(from.getUTF8String(row), into);
        } else if (type instanceof BinaryType) {
            cell = (from, row, into) -> into.addBytes(from.getBinary(row));
        }
        return Optional.ofNullable(cell);
    }

    private static Cell decimal(DecimalType type, boolean plain) {
        int scale = type.scale();
        if (plain && type.precision() <= Decimal.MAX_INT_DIGITS()) {
            return (from, row, into) -> into.addDecimal(from.getInt(row), scale);
        } else if (plain && type.precision() <= Decimal.MAX_LONG_DIGITS()) {
            return (from, row, into) -> into.addDecimal(from.getLong(row), scale);
        }
        return (from, row, into) -> LakeCells.decimal(from.getDecimal(row, type.precision(), scale), type, into);
    }

    @Override
    public void close() {
        closed = true;
    }
}
