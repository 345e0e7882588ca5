package sharptally.engines.postgresql;

import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.join.Joining;

/** Joins tables of one database, of any schema. */
final class PgJoining implements Joining {
    /** Servers that began in the same microsecond and have a database of the same number do not exist. */
    private static final String INSTANCE = "SELECT 'postgresql ' || pg_postmaster_start_time()::text || ' '"
            + " || (SELECT oid FROM pg_database WHERE datname = current_database())"
            + " || ' ' || (SELECT min(backend_start)::text FROM pg_stat_activity WHERE backend_type = 'checkpointer')";

    @Override
    public String instance() {
        return INSTANCE;
    }

    @Override
    public Outer outer() {
        return Outer.FULL;
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return form(one) + " = " + form(other);
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return form(one) + " IS DISTINCT FROM " + form(other);
    }

    /** Text by its bytes, whatever the collation; without padding; types without equality by their text. */
    private static String form(ColumnShape column) {
        String name = PgDialect.quoted(column.name());
        Kind kind = PgReading.kind(column);
        return switch (kind) {
            case TEXT, JSON, BITS, OTHER -> PgReading.asText(column) + " COLLATE \"C\"";
            default -> name;
        };
    }
}
