package sharptally.engines.trino;

import io.trino.jdbc.TrinoDriver;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;

/**
 * A reading connection whose every statement begins a transaction, or a writing one that has none. Trino gives one up as soon as a result is not read to its end, and
 * when nothing is asked for some minutes.
 */
final class FreshTransactions {
    private FreshTransactions() {}

    /**
     * @param connection on which one statement is at work at a time
     * @param driver of this connection alone, whose sockets are closed with it
     */
    static Connection of(Connection connection, TrinoDriver driver) {
        return (Connection) Proxy.newProxyInstance(
                FreshTransactions.class.getClassLoader(),
                new Class<?>[] {Connection.class},
                (proxy, method, arguments) -> {
                    boolean begins = method.getName().equals("createStatement")
                            || method.getName().equals("prepareStatement");
                    boolean ends = method.getName().equals("commit")
                            || method.getName().equals("rollback");
                    if (ends && connection.getAutoCommit()) {
                        // Each statement was committed by itself.
                        return null;
                    }
                    if (begins && !connection.getAutoCommit()) {
                        connection.rollback();
                    }
                    try {
                        return method.invoke(connection, arguments);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    } finally {
                        if (method.getName().equals("close")) {
                            driver.close();
                        }
                    }
                });
    }
}
