package sharptally.engines.sqlite;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** SQLite, by its JDBC driver with the library inside. */
public final class Sqlite {
    private Sqlite() {}

    public static Engine engine() {
        return new JdbcEngine(
                "sqlite",
                new SqliteConnector(),
                new SqliteCatalogue(),
                new SqliteReading(),
                new SqliteTotals(),
                new SqliteBinding(),
                new SqliteDialect());
    }
}
