package sharptally.acceptance;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.Driver;
import java.sql.DriverPropertyInfo;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.sql.Statement;
import java.util.Properties;
import java.util.logging.Logger;

/** A driver that offers all but one call: {@code jdbc:refusing:CALL:HOW:NAME} is a database in memory of that name. */
public final class RefusingDriver implements Driver {
    private static final String PREFIX = "jdbc:refusing:";

    @Override
    public Connection connect(String url, Properties properties) throws SQLException {
        if (!acceptsURL(url)) {
            return null;
        }
        String[] parts = url.substring(PREFIX.length()).split(":");
        if (parts[0].equals("connect")) {
            throw new IllegalStateException(new SQLException("the server is asleep"));
        }
        Connection real =
                new org.h2.Driver().connect("jdbc:h2:mem:" + parts[2] + ";DB_CLOSE_DELAY=-1", new Properties());
        return without(Connection.class, real, parts[0], parts[1]);
    }

    private static <T> T without(Class<T> type, Object real, String call, String how) {
        InvocationHandler handler = (proxy, method, arguments) -> {
            if (method.getName().equals(call)) {
                throw switch (how) {
                    case "state" -> new SQLException("no", "0A000");
                    case "words" -> new SQLException(call + " is not supported by this driver");
                    case "method" -> new AbstractMethodError(call);
                    // As some do, which wrap their own failures in one that nobody has to catch, or have a fault.
                    case "runtime" -> new IllegalStateException(new SQLException("the server is asleep"));
                    case "fault" -> new NullPointerException();
                    default -> new SQLFeatureNotSupportedException(call);
                };
            }
            try {
                Object result = method.invoke(real, arguments);
                boolean handedOut = result instanceof DatabaseMetaData
                        || result instanceof Statement
                        || result instanceof ResultSet
                        || result instanceof ResultSetMetaData;
                return handedOut ? without(method.getReturnType(), result, call, how) : result;
            } catch (InvocationTargetException e) {
                throw e.getCause();
            }
        };
        return type.cast(Proxy.newProxyInstance(RefusingDriver.class.getClassLoader(), new Class<?>[] {type}, handler));
    }

    @Override
    public boolean acceptsURL(String url) {
        return url.startsWith(PREFIX);
    }

    @Override
    public DriverPropertyInfo[] getPropertyInfo(String url, Properties properties) {
        return new DriverPropertyInfo[0];
    }

    @Override
    public int getMajorVersion() {
        return 1;
    }

    @Override
    public int getMinorVersion() {
        return 0;
    }

    @Override
    public boolean jdbcCompliant() {
        return false;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException();
    }
}
