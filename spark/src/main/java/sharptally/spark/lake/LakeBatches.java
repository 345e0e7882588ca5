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
                .allMatch(i -> filler(read.apply(i).dataType()).isPresent());
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
        filler(type).orElseThrow().fill(from, rows, into);
        return into;
    }

    /** Takes cells of a column. */
    private interface Filler {
        void fill(ColumnVector from, int[] rows, Column into);
    }

    private static Optional<Filler> filler(DataType type) {
        if (type instanceof LongType) {
            return Optional.of(LakeBatches::longs);
        } else if (type instanceof IntegerType) {
            return Optional.of(LakeBatches::ints);
        } else if (type instanceof ShortType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addInt(from.getShort(row));
                    }
                }
            });
        } else if (type instanceof ByteType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addInt(from.getByte(row));
                    }
                }
            });
        } else if (type instanceof BooleanType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addBoolean(from.getBoolean(row));
                    }
                }
            });
        } else if (type instanceof DecimalType decimal) {
            return Optional.of((from, rows, into) -> decimals(from, rows, decimal, into));
        } else if (type instanceof FloatType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addFloat(from.getFloat(row));
                    }
                }
            });
        } else if (type instanceof DoubleType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addDouble(from.getDouble(row));
                    }
                }
            });
        } else if (type instanceof DateType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addDate(from.getInt(row));
                    }
                }
            });
        } else if (type instanceof TimestampType || type instanceof TimestampNTZType) {
            boolean instant = type instanceof TimestampType;
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        LakeCells.time(from.getLong(row), instant, into);
                    }
                }
            });
        } else if (type instanceof StringType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        LakeCells.text(from.getUTF8String(row), into);
                    }
                }
            });
        } else if (type instanceof BinaryType) {
            return Optional.of((from, rows, into) -> {
                for (int row : rows) {
                    if (from.isNullAt(row)) {
                        into.addNull();
                    } else {
                        into.addBytes(from.getBinary(row));
                    }
                }
            });
        }
        return Optional.empty();
    }

    private static void longs(ColumnVector from, int[] rows, Column into) {
        for (int row : rows) {
            if (from.isNullAt(row)) {
                into.addNull();
            } else {
                into.addInt(from.getLong(row));
            }
        }
    }

    private static void ints(ColumnVector from, int[] rows, Column into) {
        for (int row : rows) {
            if (from.isNullAt(row)) {
                into.addNull();
            } else {
                into.addInt(from.getInt(row));
            }
        }
    }

    /** Those of few digits are held as numbers. */
    private static void decimals(ColumnVector from, int[] rows, DecimalType type, Column into) {
        boolean plain = from instanceof WritableColumnVector;
        for (int row : rows) {
            if (from.isNullAt(row)) {
                into.addNull();
            } else if (plain && type.precision() <= Decimal.MAX_INT_DIGITS()) {
                into.addDecimal(from.getInt(row), type.scale());
            } else if (plain && type.precision() <= Decimal.MAX_LONG_DIGITS()) {
                into.addDecimal(from.getLong(row), type.scale());
            } else {
                LakeCells.decimal(from.getDecimal(row, type.precision(), type.scale()), type, into);
            }
        }
    }

    @Override
    public void close() {
        closed = true;
    }
}
