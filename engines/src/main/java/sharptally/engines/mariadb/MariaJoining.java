package sharptally.engines.mariadb;

import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.join.Joining;

/** Joins tables of one server, of any database. */
final class MariaJoining implements Joining {
    private static final String INSTANCE =
            "SELECT CONCAT_WS(' ', @@hostname, @@port, @@datadir, @@server_id, @@version, @@pid_file, @@socket)";

    @Override
    public String instance() {
        return INSTANCE;
    }

    @Override
    public Outer outer() {
        return Outer.LEFT;
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return form(one) + " = " + form(other);
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return "NOT (" + form(one) + " <=> " + form(other) + ")";
    }

    private static String form(ColumnShape column) {
        Kind kind = MariaReading.kind(column);
        return kind == Kind.TEXT || kind == Kind.JSON
                ? MariaDialect.asBytes(column)
                : MariaDialect.quoted(column.name());
    }
}
