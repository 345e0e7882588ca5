package sharptally.engines.oracle;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** Oracle Database: {@code oracle://user@host:port/service}. */
public final class OracleDatabase {
    /** Of text, what is least and how long it is hangs on the character set of the database. */
    private static final Totalling TOTALS = new Totalling(
            OracleDialect::quoted,
            "SUM(%s)",
            "SUM(%s)",
            "SUM(TO_BINARY_DOUBLE(%s))",
            "%s",
            "RTRIM(%s)",
            "%s",
            false,
            Optional.empty(),
            Optional.empty(),
            Optional.of("SUBSTR(TO_CHAR(%s, 'YYYY-MM-DD HH24'), 1, %d)"),
            Optional.of("SUBSTR(TO_CHAR(SYS_EXTRACT_UTC(%s), 'YYYY-MM-DD HH24'), 1, %d)"));

    private OracleDatabase() {}

    public static Engine engine() {
        OracleDialect dialect = new OracleDialect();
        return new JdbcEngine(
                "oracle",
                new OracleConnector(),
                new OracleCatalogue(),
                new OracleReading(),
                TOTALS,
                Optional.of(new OracleHashing()),
                Optional.empty(),
                dialect,
                Optional.of(new JdbcEngine.Writing(new OracleBinding(), dialect)));
    }
}
