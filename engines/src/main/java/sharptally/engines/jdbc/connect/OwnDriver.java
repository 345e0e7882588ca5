package sharptally.engines.jdbc.connect;

import java.sql.Connection;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.Properties;

/**
 * Connects by the driver of an engine alone. The driver manager would first load every driver that there is, some of which
 * start threads.
 */
public final class OwnDriver {
    private OwnDriver() {}

    /**
     * @throws SQLException when the database refuses, or the driver does not take the address; and for whatever else a driver
     *     throws then
     */
    public static Connection connect(Driver driver, String url, Properties properties) throws SQLException {
        Connection connection;
        try {
            connection = driver.connect(url, properties);
        } catch (RuntimeException e) {
            throw told(e);
        }
        if (connection == null) {
            throw new SQLException("the driver does not take this address");
        }
        return connection;
    }

    /** What a driver wraps in something that nobody has to catch, or stumbles over, as a failure of the database. */
    public static SQLException told(RuntimeException e) {
        Throwable told = e.getCause() == null ? e : e.getCause();
        return new SQLException(told.getMessage() == null ? told.toString() : told.getMessage(), e);
    }
}
