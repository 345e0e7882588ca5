package sharptally.engines.mariadb;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** MariaDB 10.6 and later, and MySQL 8 by the words in which it differs. */
public final class MariaDb {
    private MariaDb() {}

    /**
     * @param name {@code mariadb} or {@code mysql}; the server itself tells which it is
     */
    public static Engine engine(String name) {
        return new JdbcEngine(
                name,
                new MariaConnector(),
                new MariaCatalogue(),
                new MariaReading(),
                new MariaTotals(),
                new MariaBinding(),
                new MariaDialect(name));
    }
}
