package sharptally.engines.duckdb;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.part.Obstacle;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.join.Joining;

/**
 * Joins tables of two files, one of which is attached to the other for reading, or of one file. The other file is the only
 * one that {@link DuckConnector} leaves within reach.
 */
final class DuckJoining implements Joining {
    private static final String ATTACHED = "tally_other";

    @Override
    public String instance() {
        return "SELECT 'files of ' || version()";
    }

    @Override
    public Outer outer() {
        return Outer.FULL;
    }

    @Override
    public Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        if (!(session.engine().connector() instanceof DuckConnector)
                || session.asked("SELECT len(current_setting('allowed_paths'))", "can't ask what is within reach")
                        .equals("0")) {
            // A connection that somebody else made may be to no file, and keeps what is attached.
            return Optional.of(new Obstacle.Apart());
        }
        if (table.view() || Joining.hasOwnSql(table, columns)) {
            return Optional.of(new Obstacle.OwnSql());
        }
        // Of a schema and a table, the attached file is the first.
        return table.name().schema().isPresent() ? Optional.of(new Obstacle.Apart()) : Optional.empty();
    }

    @Override
    public String schemaOf(Connection connection, Address other, String own) throws SQLException {
        String file = DuckConnector.file(other).toString();
        // What is attached is seen by all connections to a file of this process, once it is committed.
        synchronized (DuckJoining.class) {
            attach(connection, file);
        }
        List<String> attached = Rows.read(
                connection,
                "SELECT path FROM duckdb_databases() WHERE database_name = ?",
                row -> row.getString(1),
                ATTACHED);
        if (!attached.equals(List.of(file))) {
            throw new SQLException("another file is attached already: " + String.join(", ", attached));
        }
        return ATTACHED;
    }

    private static void attach(Connection connection, String file) throws SQLException {
        connection.rollback();
        try (Statement statement = connection.createStatement()) {
            statement.execute("ATTACH IF NOT EXISTS '" + file.replace("'", "''") + "' AS " + ATTACHED + " (READ_ONLY)");
            connection.commit();
        } catch (SQLException e) {
            // Else nothing more could be read in this transaction.
            connection.rollback();
            throw e;
        }
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return bytes(one) + " = " + bytes(other);
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        boolean asTheyAre = kind(one) == kind(other)
                && switch (kind(one)) {
                    case TEXT, JSON, BITS, OTHER, ANY -> false;
                    default -> true;
                };
        return asTheyAre
                ? DuckDialect.quoted(one.name()) + " IS DISTINCT FROM " + DuckDialect.quoted(other.name())
                : bytes(one) + " IS DISTINCT FROM " + bytes(other);
    }

    /** Whatever the collation, and whatever an engine takes for equal that is not written alike. */
    private static String bytes(ColumnShape column) {
        return "encode(" + DuckReading.asText(column) + ")";
    }

    private static Kind kind(ColumnShape column) {
        return DuckReading.kind(column);
    }
}
