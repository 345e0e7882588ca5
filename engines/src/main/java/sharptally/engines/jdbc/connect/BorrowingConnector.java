package sharptally.engines.jdbc.connect;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.WeakHashMap;
import javax.sql.DataSource;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.TimeLimits;

/**
 * Takes connections from a source of the caller's, such as a pool, and gives them back as they were: nothing of ours is
 * left in their sessions. What an engine says to its driver while it connects is as the caller chose.
 *
 * @param own how the engine makes a connection fit
 */
public record BorrowingConnector(DataSource lender, Connector own) implements Connector {
    @Override
    public Connection connect(PlaceAccess place, Access access) throws SQLException {
        Connection borrowed = lender.getConnection();
        try {
            Loan loan = Loan.of(borrowed, own);
            try {
                borrowed.setAutoCommit(true);
                return loan.connection(own.prepare(borrowed, place, access));
            } catch (SQLException | RuntimeException e) {
                loan.end(true);
                throw e;
            }
        } catch (SQLException | RuntimeException e) {
            borrowed.close();
            throw e;
        }
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        return own.prepare(connection, place, access);
    }

    @Override
    public List<String> restoring(Connection connection) throws SQLException {
        return own.restoring(connection);
    }

    @Override
    public Set<TimeLimits.Kept> keeps() {
        return own.keeps();
    }

    @Override
    public boolean keepsOneState() {
        return own.keepsOneState();
    }

    @Override
    public Optional<String> sharing(Connection other) throws SQLException {
        return own.sharing(other);
    }

    /**
     * A connection that was borrowed, and how it was before.
     *
     * @param statements those that were made of it; what is still open of them would else go on in the lender's hands
     */
    private record Loan(
            Connection borrowed,
            boolean autoCommit,
            boolean readOnly,
            int isolation,
            List<String> restoring,
            Set<Statement> statements) {
        static Loan of(Connection borrowed, Connector own) throws SQLException {
            return new Loan(
                    borrowed,
                    borrowed.getAutoCommit(),
                    borrowed.isReadOnly(),
                    borrowed.getTransactionIsolation(),
                    own.restoring(borrowed),
                    Collections.synchronizedSet(Collections.newSetFromMap(new WeakHashMap<>())));
        }

        /**
         * The same connection, given back as it was when it is closed.
         *
         * @param prepared what is used of it
         */
        Connection connection(Connection prepared) {
            return (Connection) Proxy.newProxyInstance(
                    Connection.class.getClassLoader(),
                    new Class<?>[] {Connection.class},
                    (proxy, method, arguments) -> {
                        if (method.getName().equals("close")) {
                            giveBack(prepared == borrowed);
                            return null;
                        }
                        try {
                            Object made = method.invoke(prepared, arguments);
                            if (made instanceof Statement statement) {
                                statements.add(statement);
                            }
                            return made;
                        } catch (InvocationTargetException e) {
                            throw e.getCause();
                        }
                    });
        }

        private void giveBack(boolean wasSet) throws SQLException {
            if (borrowed.isClosed()) {
                return;
            }
            try {
                end(wasSet);
            } finally {
                borrowed.close();
            }
        }

        /**
         * @param wasSet whether its session holds settings of ours
         */
        void end(boolean wasSet) throws SQLException {
            for (Statement statement : List.copyOf(statements)) {
                statement.close();
            }
            if (!borrowed.getAutoCommit()) {
                borrowed.rollback();
            }
            borrowed.setAutoCommit(true);
            try (Statement statement = borrowed.createStatement()) {
                for (String sql : wasSet ? restoring : List.<String>of()) {
                    statement.execute(sql);
                }
            }
            borrowed.setReadOnly(readOnly);
            if (borrowed.getTransactionIsolation() != isolation) {
                borrowed.setTransactionIsolation(isolation);
            }
            borrowed.setAutoCommit(autoCommit);
        }
    }
}
