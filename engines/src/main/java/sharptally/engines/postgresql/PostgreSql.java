package sharptally.engines.postgresql;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** PostgreSQL 13 and later. */
public final class PostgreSql {
    private PostgreSql() {}

    public static Engine engine() {
        return new JdbcEngine(
                "postgresql",
                new PgConnector(),
                new PgCatalogue(),
                new PgReading(),
                new PgTotals(),
                new PgBinding(),
                new PgDialect());
    }
}
