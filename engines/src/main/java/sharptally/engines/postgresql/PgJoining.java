package sharptally.engines.postgresql;

import java.util.Optional;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.join.Joining;

/** Joins tables of one database, of any schema. */
final class PgJoining implements Joining {
    /** Servers that began in the same microsecond and have a database of the same number do not exist. */
    private static final String INSTANCE = "SELECT 'postgresql ' || pg_postmaster_start_time()::text || ' '"
            + " || (SELECT oid FROM pg_database WHERE datname = current_database())"
            // Of other users' processes, not everybody is told.
            + " || ' ' || coalesce((SELECT min(backend_start)::text FROM pg_stat_activity"
            + " WHERE backend_type = 'checkpointer'), '')";

    @Override
    public String instance() {
        return INSTANCE;
    }

    /** Advisory locks are of one database. */
    @Override
    public Optional<Sign> sign(long number) {
        String lock = "pg_try_advisory_xact_lock(" + number + ")";
        return Optional.of(new Sign("SELECT " + lock + "::int", "SELECT (NOT " + lock + ")::int", Optional.empty()));
    }

    @Override
    public Optional<String> reader() {
        return Optional.of("SELECT current_user || ' ' || session_user");
    }

    @Override
    public Optional<String> names() {
        return Optional.of("SELECT current_setting('search_path')");
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
