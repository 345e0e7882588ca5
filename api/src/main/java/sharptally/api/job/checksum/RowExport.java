package sharptally.api.job.checksum;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.checksum.CommonText;
import sharptally.core.checksum.TableSums;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.Changes;
import sharptally.core.place.part.RefusedChange;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.Cast;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlText;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.Engines;

/**
 * Writes rows of a table into a new SQLite file, to be carried away and compared: whole numbers and bytes as such, text as
 * text, and all else as its text in the common form, so that rows from two engines are equal where their values are.
 */
record RowExport(Path file, TableShape table, List<ColumnShape> key, List<Hashed> columns) {
    long write(TableSums rows, List<KeyRange> ranges) {
        Changes sqlite = Engines.changes(Address.parse("sqlite:x"));
        try {
            Files.createFile(file);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "can't make the file for rows",
                    file.toString(),
                    "name a file that is not there",
                    e);
        }
        PlaceAccess access = PlaceAccess.of(new Address("sqlite", file.toString(), Optional.empty()));
        TableName name = TableName.of(table.name().name());
        try (ChangeSession session = sqlite.open(access)) {
            String declared = columns.stream()
                    .map(c -> sqlite.dialect().quote(c.column().name()) + " " + declared(c))
                    .collect(Collectors.joining(", "));
            String keyNames =
                    key.stream().map(c -> sqlite.dialect().quote(c.name())).collect(Collectors.joining(", "));
            session.execute(new SqlText.Builder()
                    .text("CREATE TABLE " + sqlite.dialect().quote(name) + " (" + declared + ", PRIMARY KEY ("
                            + keyNames + "))")
                    .build());
            long count = ranges.isEmpty() ? 0 : copy(rows.rows(ranges), session, sqlite, name);
            session.commit();
            return count;
        }
    }

    private static String declared(Hashed column) {
        return switch (column.comparedAs()) {
            case INTEGER -> "INTEGER";
            case BYTES -> "BLOB";
            default -> "TEXT";
        };
    }

    private long copy(RowSource rows, ChangeSession session, Changes sqlite, TableName name) {
        List<Cast> casts = columns.stream()
                .map(c -> new Cast(c.column().type().orElseThrow(), c.comparedAs(), c.digits()))
                .toList();
        long count = 0;
        try (rows) {
            for (Optional<RowBatch> batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                RowBatch read = batch.get();
                RowBatch cast = new RowBatch(
                        java.util.stream.IntStream.range(0, columns.size())
                                .mapToObj(i -> casts.get(i).apply(read.column(i)))
                                .toList(),
                        read.rows());
                List<SqlText> inserts = new ArrayList<>();
                for (int row = 0; row < cast.rows(); row++) {
                    inserts.add(insert(sqlite, name, cast.row(row)));
                }
                count += session.execute(inserts).length;
            }
        } catch (RefusedChange e) {
            throw e.failure();
        }
        return count;
    }

    private SqlText insert(Changes sqlite, TableName name, List<Value> row) {
        var sql = new SqlText.Builder().text("INSERT INTO " + sqlite.dialect().quote(name) + " VALUES (");
        for (int i = 0; i < row.size(); i++) {
            Kind kind = columns.get(i).comparedAs();
            Value value = row.get(i);
            boolean asIs = value instanceof Value.Null
                    || value instanceof Value.Text
                    || value instanceof Value.BrokenText
                    || kind == Kind.INTEGER && value instanceof Value.Int
                    || kind == Kind.BYTES && value instanceof Value.Bytes;
            Value held = asIs ? value : new Value.Text(text(value));
            Kind heldAs =
                    held instanceof Value.Int ? Kind.INTEGER : held instanceof Value.Bytes ? Kind.BYTES : Kind.TEXT;
            ColumnShape column = new ColumnShape(
                    columns.get(i).column().name(),
                    heldAs.name(),
                    Optional.of(CanonicalType.of(heldAs)),
                    true,
                    Generation.NONE,
                    Optional.empty());
            sql.text(i == 0 ? "" : ", ").value(held, column);
        }
        return sql.text(")").build();
    }

    private static String text(Value value) {
        return value instanceof Value.Other other ? other.text() : CommonText.of(value);
    }
}
