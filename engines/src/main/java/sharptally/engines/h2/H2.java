package sharptally.engines.h2;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** H2, embedded: a database in a file on this machine. */
public final class H2 {
    /** CHAR comes with its padding; text is ordered by UTF-16, unless it is made bytes first. */
    private static final Totalling TOTALS = new Totalling(
            H2Dialect::quoted,
            "SUM(%s)",
            "SUM(%s)",
            "CAST(SUM(CAST(%s AS DOUBLE PRECISION)) AS DOUBLE PRECISION)",
            "STRINGTOUTF8(CAST(%s AS VARCHAR))",
            "STRINGTOUTF8(RTRIM(%s))",
            "UTF8TOSTRING(%s)",
            true,
            Optional.of("OCTET_LENGTH(%s)"),
            Optional.of("OCTET_LENGTH(%s)"),
            Optional.of("LEFT(CAST(%s AS VARCHAR), %d)"),
            Optional.of("LEFT(CAST(%s AT TIME ZONE 'UTC' AS VARCHAR), %d)"));

    private H2() {}

    public static Engine engine() {
        H2Dialect dialect = new H2Dialect();
        return new JdbcEngine(
                "h2",
                new H2Connector(),
                new H2Catalogue(),
                new H2Reading(),
                TOTALS,
                Optional.empty(),
                Optional.empty(),
                dialect,
                Optional.of(new JdbcEngine.Writing(new H2Binding(), dialect)));
    }
}
