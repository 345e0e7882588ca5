package sharptally.engines.h2;

import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;

/** H2, embedded: a database in a file on this machine. */
public final class H2 {
    private H2() {}

    public static Engine engine() {
        return new JdbcEngine(
                "h2",
                new H2Connector(),
                new H2Catalogue(),
                new H2Reading(),
                new H2Totals(),
                new H2Binding(),
                new H2Dialect());
    }
}
