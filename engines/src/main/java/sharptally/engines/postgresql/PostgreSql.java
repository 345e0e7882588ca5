package sharptally.engines.postgresql;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** PostgreSQL 13 and later. */
public final class PostgreSql {
    /** A cast to text takes the padding off; sums are numeric, whatever they are of. */
    private static final Totalling TOTALS = new Totalling(
            PgDialect::quoted,
            "SUM(%s::numeric)",
            "SUM(%s)",
            "SUM(%s::float8)",
            "%s::text COLLATE \"C\"",
            "%s::text COLLATE \"C\"",
            "%s",
            true,
            Optional.of("octet_length(convert_to(%s, 'UTF8'))::numeric"),
            Optional.of("octet_length(%s)::numeric"),
            Optional.of("left(to_char(%s, 'YYYY-MM-DD HH24'), %d)"),
            Optional.of("left(to_char(%s, 'YYYY-MM-DD HH24'), %d)"));

    private PostgreSql() {}

    public static Engine engine() {
        PgDialect dialect = new PgDialect();
        return new JdbcEngine(
                "postgresql",
                new PgConnector(),
                new PgCatalogue(),
                new PgReading(),
                TOTALS,
                Optional.of(new PgHashing("")),
                Optional.of(new PgJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new PgBinding(), dialect)));
    }
}
