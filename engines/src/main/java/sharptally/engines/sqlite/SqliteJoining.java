package sharptally.engines.sqlite;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.place.Address;
import sharptally.core.place.part.Obstacle;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.join.Joining;

/**
 * Joins tables of two files, one of which is attached to the connection of the other, or of one file. Values are
 * compared as they are stored: SQLite would take an integer and a real for equal, and convert what stands beside a column
 * of another affinity.
 */
final class SqliteJoining implements Joining {
    private static final String ATTACHED = "tally_other";
    /** Files of different encodings can't be attached to each other. */
    private static final String INSTANCE = "SELECT 'files in ' || encoding FROM pragma_encoding";

    @Override
    public String instance() {
        return INSTANCE;
    }

    @Override
    public Outer outer() {
        return Outer.LEFT;
    }

    @Override
    public Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        if (!(session.engine().connector() instanceof SqliteConnector)) {
            // A connection that somebody else made may be to no file, and keeps what is attached.
            return Optional.of(new Obstacle.Apart());
        }
        if (Joining.hasOwnSql(table, columns)) {
            return Optional.of(new Obstacle.OwnSql());
        }
        return key.stream()
                .filter(c -> !isOfOneForm(session, table, c))
                .findFirst()
                .map(c -> new Obstacle.KeyForms(c.name()));
    }

    /** Keys are paired by the merge as what they mean, and here as they are stored. */
    private static boolean isOfOneForm(PlaceSession session, TableShape table, ColumnShape column) {
        Kind kind = kind(column);
        if (kind != Kind.INTEGER && kind != Kind.TEXT) {
            return false;
        }
        if (column.generation() == Generation.IDENTITY && isRowNumber(session, table)) {
            return true;
        }
        String others = "SELECT EXISTS (SELECT 1 FROM "
                + SqliteDialect.quoted(table.name().name()) + " WHERE typeof(" + SqliteDialect.quoted(column.name())
                + ") <> '" + (kind == Kind.TEXT ? "text" : "integer") + "')";
        return session.asked(others, "can't look at the key's values").equals("0");
    }

    /** Whether the primary key is the number by which SQLite itself knows a row, which is always an integer. */
    private static boolean isRowNumber(PlaceSession session, TableShape table) {
        String name = session.engine()
                .terms()
                .literal(new Value.Text(table.name().name()), table.columns().get(0));
        return session.asked(
                        "SELECT EXISTS (SELECT 1 FROM pragma_table_list(" + name + ") WHERE schema = 'main' AND"
                                + " type = 'table' AND wr = 0) AND NOT EXISTS (SELECT 1 FROM pragma_index_list(" + name
                                + ") WHERE origin = 'pk')",
                        "can't ask for the key's form")
                .equals("1");
    }

    @Override
    public String schemaOf(Connection connection, Address other, String own) throws SQLException {
        List<String> attached = Rows.read(
                connection, "SELECT name FROM pragma_database_list WHERE name = ?", row -> row.getString(1), ATTACHED);
        if (attached.isEmpty()) {
            // Read-only, as the connection is.
            try (PreparedStatement attach = connection.prepareStatement("ATTACH ? AS " + ATTACHED)) {
                attach.setString(1, SqliteConnector.file(other).toString());
                attach.execute();
            }
        }
        return ATTACHED;
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return bare(one) + " = " + bare(other) + " COLLATE BINARY";
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        String differ = bare(one) + " IS NOT " + bare(other);
        if (one.collation().isPresent() || other.collation().isPresent()) {
            differ += " COLLATE BINARY";
        }
        boolean keepsClass = kind(one) != Kind.ANY
                && kind(other) != Kind.ANY
                && affinity(one).equals(affinity(other))
                && !affinity(one).isEmpty();
        if (!keepsClass) {
            differ += " OR typeof(" + bare(one) + ") <> typeof(" + bare(other) + ")";
        } else if (kind(one) == Kind.DECIMAL) {
            // The one real of a whole number that is not made an integer when it is stored.
            differ += " OR " + bare(one) + " = -9223372036854775807 - 1";
        }
        return "(" + differ + ")";
    }

    /** Without the affinity of its column, by which what it is compared with would be converted. */
    private static String bare(ColumnShape column) {
        return "+" + SqliteDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().orElseThrow().kind();
    }

    /** By the rules of SQLite's documentation ("Determination of column affinity"); empty where nothing is converted. */
    private static String affinity(ColumnShape column) {
        String declared = column.declaredType().toUpperCase(Locale.ROOT);
        if (declared.contains("INT")) {
            return "integer";
        } else if (Stream.of("CHAR", "CLOB", "TEXT").anyMatch(declared::contains)) {
            return "text";
        } else if (declared.contains("BLOB") || declared.equals("NO TYPE")) {
            return "";
        }
        return Stream.of("REAL", "FLOA", "DOUB").anyMatch(declared::contains) ? "real" : "numeric";
    }
}
