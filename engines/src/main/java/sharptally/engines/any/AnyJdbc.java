package sharptally.engines.any;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** Any database with a JDBC driver, by standard SQL and what the driver says of it. Address: the JDBC URL. */
public final class AnyJdbc {
    /** By the aggregates of the standard; what differs between databases is not offered. */
    private static final Totalling TOTALS = new Totalling(
            StandardDialect::quoted,
            "SUM(CAST(%s AS BIGINT))",
            "SUM(%s)",
            "SUM(CAST(%s AS DOUBLE PRECISION))",
            "%s",
            "%s",
            "%s",
            false,
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());

    private AnyJdbc() {}

    public static Engine engine() {
        StandardDialect dialect = new StandardDialect();
        return new JdbcEngine(
                "jdbc",
                new AnyConnector(),
                new AnyCatalogue(),
                new AnyReading(),
                TOTALS,
                Optional.empty(),
                Optional.empty(),
                dialect,
                Optional.of(new JdbcEngine.Writing(new AnyBinding(), dialect)));
    }
}
