package sharptally.engines;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.sql.DataSource;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.part.Changes;
import sharptally.core.script.rewrite.Rewrites;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.any.AnyJdbc;
import sharptally.engines.duckdb.DuckDb;
import sharptally.engines.duckdb.EmbeddedDuckDb;
import sharptally.engines.files.FileEngine;
import sharptally.engines.files.ParquetEngine;
import sharptally.engines.files.RemoteEngine;
import sharptally.engines.files.dump.DumpEngine;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.h2.H2;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.BorrowingConnector;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.lake.LakeEngine;
import sharptally.engines.mariadb.MariaDb;
import sharptally.engines.oracle.OracleDatabase;
import sharptally.engines.postgresql.PostgreSql;
import sharptally.engines.sqlite.Sqlite;
import sharptally.engines.sqlserver.SqlServer;
import sharptally.engines.trino.Trino;

/** The engines that this build knows. A new one is a package of its own and one line here. */
public final class Engines {
    private static final Embedded EMBEDDED = new EmbeddedDuckDb();

    private static final List<Engine> FILES = List.of(
            new FileEngine(FileKind.CSV, EMBEDDED),
            new FileEngine(FileKind.TSV, EMBEDDED),
            new FileEngine(FileKind.JSONL, EMBEDDED),
            new FileEngine(FileKind.XLSX, EMBEDDED),
            new ParquetEngine(EMBEDDED),
            new DumpEngine(EMBEDDED));

    private static final List<Engine> ALL = Stream.of(
                    List.of(
                            PostgreSql.engine(),
                            MariaDb.engine("mariadb"),
                            MariaDb.engine("mysql"),
                            Sqlite.engine(),
                            H2.engine(),
                            DuckDb.engine(),
                            Trino.engine(),
                            SqlServer.engine(),
                            OracleDatabase.engine()),
                    FILES,
                    List.of(
                            new RemoteEngine("s3", FILES),
                            new RemoteEngine("https", FILES),
                            new RemoteEngine("http", FILES),
                            new LakeEngine(),
                            AnyJdbc.engine()))
            .flatMap(List::stream)
            .toList();

    private Engines() {}

    public static List<Engine> all() {
        return ALL;
    }

    /**
     * How a place is changed.
     *
     * @throws ToolException when it can only be read
     */
    public static Changes changes(Address address) {
        return of(address)
                .changes()
                .orElseThrow(() -> new ToolException(
                        ErrorKind.REFUSED,
                        "this can only be read, not changed",
                        address.toString(),
                        "name another one"));
    }

    /** The database within this program. */
    public static Embedded embedded() {
        return EMBEDDED;
    }

    /** How the files of a place are written anew; empty where it is no place of such files. */
    public static Optional<Rewrites> rewrites(Address address) {
        boolean readOnly = of(address) instanceof FileEngine files && files.kind() == FileKind.XLSX;
        return !readOnly && of(address) instanceof Rewrites rewrites ? Optional.of(rewrites) : Optional.empty();
    }

    /** What a place that is changed, or written anew, can hold. */
    public static SqlDialect dialect(Address address) {
        return rewrites(address)
                .map(Rewrites::dialect)
                .orElseGet(() -> changes(address).dialect());
    }

    /**
     * The same engine over connections of the caller's.
     *
     * @param name of an engine
     * @throws ToolException when there is none of this name
     */
    public static Engine over(String name, DataSource lender) {
        JdbcEngine engine = (JdbcEngine) of(new Address(name, "", Optional.empty()));
        return engine.over(new BorrowingConnector(lender, engine.connector()));
    }

    /**
     * @throws ToolException when no engine has this address's name
     */
    public static Engine of(Address address) {
        if (address.engine().equals("jdbc")) {
            return AnyJdbc.engine(address.location());
        }
        return ALL.stream()
                .filter(engine -> engine.name().equals(address.engine()))
                .findFirst()
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "no engine of this name",
                        address.toString(),
                        "there are: " + ALL.stream().map(Engine::name).collect(Collectors.joining(", "))));
    }
}
