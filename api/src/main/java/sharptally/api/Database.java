package sharptally.api;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import java.util.function.Function;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import sharptally.api.job.connect.DriverConnections;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.Engines;

/**
 * A database, or one table or schema of it, that is opened when a job needs it. Immutable.
 *
 * <p>Connections of a {@code DataSource} are borrowed and given back with the session as it was: transaction, isolation,
 * read-only flag, time zone and whatever else was set. A job needs two of them of each side, and one more of each side
 * per further worker.
 */
public final class Database {
    private final Function<SharpTally, Endpoint> opening;
    private final Optional<String> table;
    private final Optional<String> schema;

    private Database(Function<SharpTally, Endpoint> opening, Optional<String> table, Optional<String> schema) {
        this.opening = opening;
        this.table = table;
        this.schema = schema;
    }

    /**
     * By an address as the command line takes it, such as {@code postgresql://reader@host/archive?password-env=NAME},
     * {@code sqlite:old.db}, or {@code @NAME} of the connections file that {@link SharpTally.Builder#connections} names.
     */
    public static Database at(String address) {
        return new Database(tally -> tally.resolved(address), Optional.empty(), Optional.empty());
    }

    /**
     * By connections of the caller's.
     *
     * @param name how the database is called in results and messages
     */
    public static Database of(String name, DataSource connections) {
        return new Database(tally -> lent(name, connections), Optional.empty(), Optional.empty());
    }

    /**
     * By a JDBC URL, whose driver is on the caller's class path.
     *
     * @param name how the database is called in results and messages
     * @param properties user, password, and whatever the driver takes
     */
    public static Database jdbc(String name, String url, Properties properties) {
        Properties copy = new Properties();
        copy.putAll(properties);
        return of(name, new DriverConnections(url, copy));
    }

    /** Only this table, with or without its schema. */
    public Database table(String wanted) {
        return new Database(opening, Optional.of(wanted), schema);
    }

    /** Only tables of this schema. */
    public Database schema(String wanted) {
        return new Database(opening, table, Optional.of(wanted));
    }

    Endpoint endpoint(SharpTally tally) {
        Endpoint whole = opening.apply(tally);
        PlaceAccess access = whole.access();
        if (table.isPresent()) {
            access = access.called(access.label().withTable(table.get()));
        }
        if (schema.isPresent()) {
            access = access.inSchema(schema.get());
        }
        return new Endpoint(whole.engine(), access.spillingTo(tally.context().temporary()));
    }

    private static Endpoint lent(String name, DataSource connections) {
        try (Connection connection = connections.getConnection()) {
            String product = connection.getMetaData().getDatabaseProductName().toLowerCase(Locale.ROOT);
            String engine = Engines.all().stream()
                    .map(sharptally.core.place.Engine::name)
                    .filter(product::contains)
                    .findFirst()
                    .orElse("jdbc");
            Address label = new Address(engine, name, Optional.empty());
            Address address = new Address(engine, location(connection, engine).orElse(name), Optional.empty());
            return new Endpoint(
                    Engines.over(engine, connections), PlaceAccess.of(label).at(address));
        } catch (SQLException e) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "can't get a connection",
                    name + " (" + e.getMessage() + ")",
                    "check what the connections come from",
                    e);
        }
    }

    /** Where a connection leads, as an address of ours has it: of its URL, no user and no option. */
    private static Optional<String> location(Connection connection, String engine) throws SQLException {
        // A driver of MariaDB leads to MySQL as well, and the other way round.
        String start = engine.equals("mariadb") || engine.equals("mysql")
                ? "^jdbc:(mariadb|mysql):"
                : "^jdbc:" + Pattern.quote(engine) + ":";
        return Optional.ofNullable(connection.getMetaData().getURL())
                .filter(url -> Pattern.compile(start).matcher(url).lookingAt())
                .map(url -> url.replaceFirst(start, "").split("[?;]", 2)[0].replaceFirst("^//[^/]*@", "//"));
    }
}
