package sharptally.engines.any;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.sql.Statement;
import java.util.Set;
import sharptally.engines.jdbc.connect.OwnDriver;

/**
 * A connection that gives a plain statement where its driver prepares none, to be used where no value is bound; and whatever
 * the driver throws, of it and of all that it hands out, is a failure of the database.
 */
final class Unprepared {
    private static final Set<Class<?>> HANDED_OUT = Set.of(
            Statement.class, PreparedStatement.class, DatabaseMetaData.class, ResultSet.class, ResultSetMetaData.class);

    private Unprepared() {}

    static Connection of(Connection connection) {
        return (Connection) Proxy.newProxyInstance(
                Unprepared.class.getClassLoader(),
                new Class<?>[] {Connection.class},
                (proxy, method, arguments) -> switch (method.getName()) {
                    case "equals" -> proxy == arguments[0];
                    case "hashCode" -> System.identityHashCode(proxy);
                    case "prepareStatement" -> prepared((Connection) proxy, connection, method, arguments);
                    default -> called(method, connection, arguments);
                });
    }

    /** Has it noted where no statement can be prepared, so that it is told before one is needed. */
    static void look(Connection connection) {
        try {
            connection.prepareStatement("SELECT 1").close();
        } catch (SQLException e) {
            // Not every engine selects from nothing; that it was looked at is enough.
        }
    }

    private static Object prepared(Connection proxy, Connection connection, Method method, Object[] arguments)
            throws Throwable {
        Object real = Lacks.asked(proxy, "prepared statements", proxy, () -> {
            try {
                return called(method, connection, arguments);
            } catch (SQLException | Error | RuntimeException e) {
                throw e;
            } catch (Throwable e) {
                throw new SQLException(e);
            }
        });
        return real == proxy ? plain(connection.createStatement(), (String) arguments[0]) : real;
    }

    private static PreparedStatement plain(Statement statement, String sql) {
        return (PreparedStatement) Proxy.newProxyInstance(
                Unprepared.class.getClassLoader(),
                new Class<?>[] {PreparedStatement.class},
                (proxy, method, arguments) -> {
                    boolean bare = arguments == null || arguments.length == 0;
                    if (bare
                            && method.getName().startsWith("execute")
                            && !method.getName().endsWith("Batch")) {
                        Method same = Statement.class.getMethod(method.getName(), String.class);
                        return called(same, statement, new Object[] {sql});
                    }
                    if (method.getDeclaringClass() == PreparedStatement.class) {
                        throw new SQLFeatureNotSupportedException("the driver prepares no statements");
                    }
                    return called(method, statement, arguments);
                });
    }

    private static Object called(Method method, Object on, Object[] arguments) throws Throwable {
        try {
            Object result = method.invoke(on, arguments);
            return HANDED_OUT.contains(method.getReturnType()) && result != null
                    ? guarded(method.getReturnType(), result)
                    : result;
        } catch (InvocationTargetException e) {
            boolean lacks = e.getCause() instanceof UnsupportedOperationException;
            throw e.getCause() instanceof RuntimeException failure && !lacks ? OwnDriver.told(failure) : e.getCause();
        }
    }

    private static Object guarded(Class<?> type, Object real) {
        return Proxy.newProxyInstance(
                Unprepared.class.getClassLoader(),
                new Class<?>[] {type},
                (proxy, method, arguments) -> called(method, real, arguments));
    }
}
