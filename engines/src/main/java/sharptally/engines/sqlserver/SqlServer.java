package sharptally.engines.sqlserver;

import java.util.Optional;
import sharptally.core.place.Engine;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.sums.Totalling;

/** SQL Server: {@code sqlserver://user@host:port/database}. */
public final class SqlServer {
    /**
     * Blanks at the end of a text do not count for its equality, so that one more letter stands behind them. Lengths in UTF-8
     * are known to new versions alone.
     */
    private static final Totalling TOTALS = new Totalling(
            SqlServerDialect::quoted,
            "SUM(CAST(%s AS decimal(38, 0)))",
            "SUM(%s)",
            "SUM(CAST(%s AS float))",
            "(CONVERT(nvarchar(max), %s) + N'|') COLLATE " + SqlServerDialect.BINARY,
            "(RTRIM(CONVERT(nvarchar(max), %s)) + N'|') COLLATE " + SqlServerDialect.BINARY,
            "LEFT(%1$s, LEN(%1$s) - 1)",
            false,
            Optional.empty(),
            Optional.of("DATALENGTH(%s)"),
            Optional.of("LEFT(CONVERT(varchar(27), %s, 120), %d)"),
            Optional.of("LEFT(CONVERT(varchar(27), SWITCHOFFSET(%s, '+00:00'), 120), %d)"));

    private SqlServer() {}

    public static Engine engine() {
        SqlServerDialect dialect = new SqlServerDialect();
        return new JdbcEngine(
                "sqlserver",
                new SqlServerConnector(),
                new SqlServerCatalogue(),
                new SqlServerReading(),
                TOTALS,
                Optional.of(SqlServerHashing.OF_OLD),
                Optional.of(new SqlServerJoining()),
                dialect,
                Optional.of(new JdbcEngine.Writing(new SqlServerBinding(), dialect)));
    }
}
