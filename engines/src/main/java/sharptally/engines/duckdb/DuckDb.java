package sharptally.engines.duckdb;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** DuckDB, embedded: a database in a file on this machine. */
public final class DuckDb {
    private DuckDb() {}

    public static Engine engine() {
        return new JdbcEngine(
                "duckdb",
                new DuckConnector(),
                new DuckCatalogue(),
                new DuckReading(),
                new DuckTotals(),
                new DuckBinding(),
                new DuckDialect());
    }
}
