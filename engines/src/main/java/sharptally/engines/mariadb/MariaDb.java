package sharptally.engines.mariadb;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** MariaDB 10.6 and later, and MySQL 8 by the words in which it differs. */
public final class MariaDb {
    /** Collations hold different texts equal, so text is taken as its bytes. */
    private static final Totalling TOTALS = new Totalling(
            MariaDialect::quoted,
            "SUM(%s)",
            "SUM(%s)",
            "SUM(%s + 0e0)",
            "CAST(CONVERT(%s USING utf8mb4) AS BINARY)",
            "CAST(CONVERT(%s USING utf8mb4) AS BINARY)",
            "CONVERT(%s USING utf8mb4)",
            true,
            Optional.of("LENGTH(%s)"),
            Optional.of("LENGTH(%s)"),
            Optional.of("LEFT(DATE_FORMAT(%s, '%%Y-%%m-%%d %%H'), %d)"),
            Optional.of("LEFT(DATE_FORMAT(%s, '%%Y-%%m-%%d %%H'), %d)"));

    private MariaDb() {}

    /**
     * @param name {@code mariadb} or {@code mysql}; the server itself tells which it is
     */
    public static Engine engine(String name) {
        MariaDialect dialect = new MariaDialect(name);
        return new JdbcEngine(
                name,
                new MariaConnector(),
                new MariaCatalogue(),
                new MariaReading(),
                TOTALS,
                Optional.of(new MariaHashing()),
                Optional.of(new MariaJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new MariaBinding(), dialect)));
    }
}
