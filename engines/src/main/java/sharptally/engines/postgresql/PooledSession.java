package sharptally.engines.postgresql;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Set;
import org.postgresql.PGConnection;

/**
 * A connection through a pooler, which may give each transaction to another session of the server, and each session to
 * somebody else between two transactions. So nothing is set in a session: each transaction begins by setting what it needs
 * for itself alone, as soon as the first is asked of it.
 */
final class PooledSession {
    /** Of a connection, by which something may be asked of the server. */
    private static final Set<String> ASKING =
            Set.of("createStatement", "prepareStatement", "prepareCall", "getMetaData", "setSavepoint", "unwrap");

    private final Connection connection;
    private final String beginning;
    private boolean begun;

    private PooledSession(Connection connection, String beginning) {
        this.connection = connection;
        this.beginning = beginning;
    }

    /**
     * @param connection with auto-commit off
     * @param beginning statements, none of which reads anything
     */
    static Connection of(Connection connection, List<String> beginning) {
        PooledSession session = new PooledSession(connection, String.join("; ", beginning));
        return proxy(Connection.class, session::ofConnection);
    }

    /** Whether a connection's server process is not the one that greeted it. */
    static boolean isPooled(Connection connection, int process) throws SQLException {
        return connection.isWrapperFor(PGConnection.class)
                && connection.unwrap(PGConnection.class).getBackendPID() != process;
    }

    /** Of a method that was called, what it returns. */
    private interface Call {
        Object of(Method method, Object[] arguments) throws Throwable;
    }

    private static <T> T proxy(Class<T> type, Call call) {
        return type.cast(Proxy.newProxyInstance(
                PooledSession.class.getClassLoader(), new Class<?>[] {type}, (proxy, method, arguments) -> {
                    try {
                        return call.of(method, arguments);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                }));
    }

    private Object ofConnection(Method method, Object[] arguments) throws Throwable {
        if (ASKING.contains(method.getName())) {
            begin();
        }
        Object made = method.invoke(connection, arguments);
        boolean ends = method.getName().equals("commit")
                || method.getName().equals("rollback") && method.getParameterCount() == 0;
        begun = begun && !ends;
        if (made instanceof PreparedStatement statement && method.getName().equals("prepareStatement")) {
            return asking(PreparedStatement.class, statement);
        } else if (made instanceof Statement statement && method.getName().equals("createStatement")) {
            return asking(Statement.class, statement);
        } else if (made instanceof DatabaseMetaData data) {
            return asking(DatabaseMetaData.class, data);
        }
        return made;
    }

    /** What outlives a transaction may ask something in the next one. */
    private <T> T asking(Class<T> type, T made) {
        return proxy(type, (method, arguments) -> {
            if (method.getName().startsWith("execute") || type == DatabaseMetaData.class) {
                begin();
            }
            return method.invoke(made, arguments);
        });
    }

    private void begin() throws SQLException {
        if (!begun && !connection.getAutoCommit()) {
            begun = true;
            try (Statement statement = connection.createStatement()) {
                statement.execute(beginning);
            } catch (SQLException e) {
                begun = false;
                throw e;
            }
        }
    }
}
