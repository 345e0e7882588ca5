package sharptally.engines.duckdb;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** DuckDB, embedded: a database in a file on this machine. */
public final class DuckDb {
    /** Text is ordered by its bytes; ENUM is made text first. */
    static final Totalling TOTALS = new Totalling(
            DuckDialect::quoted,
            "SUM(%s)",
            "SUM(%s)",
            "SUM(CAST(%s AS DOUBLE))",
            "CAST(%s AS VARCHAR)",
            "CAST(%s AS VARCHAR)",
            "%s",
            true,
            Optional.of("strlen(%s)"),
            Optional.of("octet_length(%s)"),
            Optional.of("LEFT(strftime(%s, '%%Y-%%m-%%d %%H'), %d)"),
            Optional.of("LEFT(strftime(%s, '%%Y-%%m-%%d %%H'), %d)"));

    private DuckDb() {}

    public static Engine engine() {
        DuckDialect dialect = new DuckDialect();
        return new JdbcEngine(
                "duckdb",
                new DuckConnector(),
                new DuckCatalogue(),
                new DuckReading(),
                TOTALS,
                Optional.empty(),
                Optional.of(new DuckJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new DuckBinding(), dialect)));
    }
}
