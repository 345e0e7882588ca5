package sharptally.engines.any;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** Any database with a JDBC driver, by standard SQL and what the driver says of it. Address: the JDBC URL. */
public final class AnyJdbc {
    private AnyJdbc() {}

    public static Engine engine() {
        return new JdbcEngine(
                "jdbc",
                new AnyConnector(),
                new AnyCatalogue(),
                new AnyReading(),
                new AnyTotals(),
                new AnyBinding(),
                new StandardDialect());
    }
}
