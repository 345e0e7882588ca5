package sharptally.engines.trino;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** Trino: {@code trino://user@host:port/catalogue/schema}. */
public final class Trino {
    /** Text is compared by its bytes; sums of whole numbers would overflow. */
    private static final Totalling TOTALS = new Totalling(
            TrinoDialect::quoted,
            "SUM(CAST(%s AS decimal(38, 0)))",
            "SUM(%s)",
            "SUM(CAST(%s AS double))",
            "%s",
            "regexp_replace(CAST(%s AS varchar), ' +\\z')",
            "%s",
            true,
            Optional.of("length(to_utf8(%s))"),
            Optional.of("length(%s)"),
            Optional.of("substr(format_datetime(CAST(%s AS timestamp), 'yyyy-MM-dd HH'), 1, %d)"),
            Optional.of("substr(format_datetime(%s AT TIME ZONE 'UTC', 'yyyy-MM-dd HH'), 1, %d)"));

    private Trino() {}

    public static Engine engine() {
        TrinoDialect dialect = new TrinoDialect();
        return new JdbcEngine(
                "trino",
                new TrinoConnector(),
                new TrinoCatalogue(),
                new TrinoReading(),
                TOTALS,
                Optional.of(new TrinoHashing()),
                Optional.of(new TrinoJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new NothingBound(), dialect)));
    }
}
