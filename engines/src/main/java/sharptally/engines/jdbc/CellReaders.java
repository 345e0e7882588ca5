package sharptally.engines.jdbc;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import sharptally.core.rows.Column;
import sharptally.core.types.Value;

/** Readers that several engines share: each asks for a value in one way and appends it, or NULL. */
public final class CellReaders {
    /** How a value is asked for. */
    @FunctionalInterface
    public interface Getter<T> {
        @Nullable
        T get(ResultSet row, int index) throws SQLException;
    }

    /** How a value that is not NULL is appended. */
    @FunctionalInterface
    public interface Adder<T> {
        void add(Column into, T value);
    }

    private CellReaders() {}

    public static <T> CellReader of(Getter<T> getter, Adder<T> adder) {
        return (row, i, into) -> {
            T value = getter.get(row, i);
            if (value == null || row.wasNull()) {
                into.addNull();
            } else {
                adder.add(into, value);
            }
        };
    }

    /** A value that the driver makes into the given class. */
    public static <T> CellReader object(Class<T> as, Adder<T> adder) {
        return of((row, i) -> row.getObject(i, as), adder);
    }

    /** A value by its text. */
    public static CellReader string(Adder<String> adder) {
        return of(ResultSet::getString, adder);
    }

    public static CellReader booleans() {
        return of(ResultSet::getBoolean, Column::addBoolean);
    }

    /** Whole numbers of up to 64 bits signed; without an object per value. */
    public static CellReader integers() {
        return (row, i, into) -> {
            long value = row.getLong(i);
            if (row.wasNull()) {
                into.addNull();
            } else {
                into.addInt(value);
            }
        };
    }

    public static CellReader floats() {
        return of(ResultSet::getFloat, Column::addFloat);
    }

    /** Without an object per value. What stands for NULL is the driver's choice: DuckDB's is NaN. */
    public static CellReader doubles() {
        return (row, i, into) -> {
            double value = row.getDouble(i);
            if (row.wasNull()) {
                into.addNull();
            } else {
                into.addDouble(value);
            }
        };
    }

    public static CellReader texts() {
        return string(Column::addText);
    }

    public static CellReader bytes() {
        return of(ResultSet::getBytes, (Column into, byte[] value) -> into.addBytes(value));
    }

    /** Text that says a UUID. */
    public static CellReader uuids() {
        return string((into, text) -> {
            UUID uuid = UUID.fromString(text);
            into.addUuid(uuid.getMostSignificantBits(), uuid.getLeastSignificantBits());
        });
    }

    /** An engine's own text for a value of the named type. */
    public static CellReader others(String type) {
        return string((into, text) -> into.add(new Value.Other(type, text)));
    }
}
