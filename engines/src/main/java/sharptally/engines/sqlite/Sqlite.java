package sharptally.engines.sqlite;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** SQLite, by its JDBC driver with the library inside. */
public final class Sqlite {
    /** SQLite adds decimals as floating values, so every connection is given an exact sum of ours. */
    private static final Totalling TOTALS = new Totalling(
            SqliteDialect::quoted,
            ExactSum.NAME + "(%s)",
            ExactSum.NAME + "(%s)",
            "SUM(CAST(%s AS REAL))",
            "%s COLLATE BINARY",
            "%s COLLATE BINARY",
            "%s",
            true,
            Optional.of("length(CAST(%s AS BLOB))"),
            Optional.of("length(%s)"),
            Optional.of("substr(replace(%s, 'T', ' '), 1, %d)"),
            Optional.of("substr(replace(%s, 'T', ' '), 1, %d)"));

    private Sqlite() {}

    public static Engine engine() {
        SqliteDialect dialect = new SqliteDialect();
        return new JdbcEngine(
                "sqlite",
                new SqliteConnector(),
                new SqliteCatalogue(),
                new SqliteReading(),
                TOTALS,
                Optional.empty(),
                Optional.of(new SqliteJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new SqliteBinding(), dialect)));
    }
}
