package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.RefusedChange;
import sharptally.core.sql.SqlText;
import sharptally.core.sql.SqlText.Bound;

/** Changes through a JDBC connection: statements of the same text prepared once, and sent many at a time. */
final class JdbcChangeSession implements ChangeSession {
    private static final int MAX_PREPARED = 64;
    /** SQLSTATEs of a deadlock, and of a transaction that came too late. */
    private static final Set<String> TRY_AGAIN = Set.of("40001", "40P01");

    private final JdbcEngine.Writing how;
    private final Address address;
    private final Connection connection;
    private final Map<String, PreparedStatement> prepared = new LinkedHashMap<>(16, 0.75f, true);
    private Optional<Boolean> savepoints = Optional.empty();
    /** Whether the driver prepares no statements, so that values stand in them. */
    private boolean literal;

    JdbcChangeSession(JdbcEngine.Writing how, Address address, Connection connection) {
        this.how = how;
        this.address = address;
        this.connection = connection;
    }

    @Override
    public long[] execute(List<SqlText> changes) {
        long[] touched = new long[changes.size()];
        int from = 0;
        while (from < changes.size()) {
            String sql = text(changes.get(from));
            int to = from + 1;
            while (to < changes.size()
                    && !sql.isEmpty()
                    && text(changes.get(to)).equals(sql)) {
                to++;
            }
            run(changes, from, to, sql, touched);
            from = to;
        }
        return touched;
    }

    /** With a mark for each value; empty where a value can't be bound. */
    private String text(SqlText change) {
        return !literal && change.values().stream().allMatch(how.binding()::carries)
                ? change.render((value, column) -> "?")
                : "";
    }

    private void run(List<SqlText> changes, int from, int to, String sql, long[] touched) {
        try {
            if (to - from > 1 && supportsSavepoints()) {
                Savepoint before = connection.setSavepoint();
                try {
                    together(changes, from, to, sql, touched);
                    connection.releaseSavepoint(before);
                    return;
                } catch (SQLException e) {
                    if (connection.isClosed() || mayBeTriedAgain(e)) {
                        throw refused(-1, e);
                    }
                    // Once more, one by one, to learn which it is.
                    connection.rollback(before);
                }
            }
        } catch (SQLException e) {
            throw refused(-1, e);
        }
        for (int i = from; i < to; i++) {
            try {
                touched[i] = one(changes.get(i), sql);
            } catch (SQLException e) {
                throw refused(i, e);
            }
        }
    }

    @Override
    public void set(String statement) {
        try (Statement prepared = connection.createStatement()) {
            prepared.execute(statement);
        } catch (SQLException e) {
            throw refused(-1, e);
        }
    }

    @Override
    public long count(String query) {
        try (Statement statement = connection.createStatement();
                ResultSet rows = statement.executeQuery(query)) {
            rows.next();
            return rows.getLong(1);
        } catch (SQLException e) {
            throw failed("can't count rows", e);
        }
    }

    @Override
    public boolean executeTogether(SqlText statement, long rows) {
        try {
            if (!supportsSavepoints()) {
                return false;
            }
            Savepoint before = connection.setSavepoint();
            try {
                if (one(statement, "") == rows) {
                    connection.releaseSavepoint(before);
                    return true;
                }
            } catch (SQLException e) {
                if (connection.isClosed() || mayBeTriedAgain(e)) {
                    throw refused(-1, e);
                }
            }
            connection.rollback(before);
            return false;
        } catch (SQLException e) {
            throw refused(-1, e);
        }
    }

    private boolean supportsSavepoints() throws SQLException {
        if (savepoints.isEmpty()) {
            savepoints = Optional.of(connection.getMetaData().supportsSavepoints());
        }
        return savepoints.get();
    }

    private void together(List<SqlText> changes, int from, int to, String sql, long[] touched) throws SQLException {
        PreparedStatement statement = prepare(sql);
        for (int i = from; i < to; i++) {
            bind(statement, changes.get(i));
            statement.addBatch();
        }
        int[] counts = statement.executeBatch();
        for (int i = 0; i < counts.length; i++) {
            // A driver that does not tell how many has inserted them all, or would have failed.
            boolean untold = counts[i] == Statement.SUCCESS_NO_INFO;
            if (untold && !sql.contains(" VALUES (")) {
                throw new SQLException("the driver does not tell how many rows were touched");
            }
            touched[from + i] = untold ? 1 : counts[i];
        }
    }

    private long one(SqlText change, String sql) throws SQLException {
        if (sql.isEmpty()) {
            try (Statement statement = connection.createStatement()) {
                return statement.executeLargeUpdate(change.render(how.dialect()::literal));
            }
        }
        PreparedStatement statement = prepare(sql);
        try {
            bind(statement, change);
        } catch (SQLFeatureNotSupportedException e) {
            literal = true;
            return one(change, "");
        }
        return statement.executeLargeUpdate();
    }

    private void bind(PreparedStatement statement, SqlText change) throws SQLException {
        int index = 1;
        for (Bound value : change.values()) {
            how.binding().bind(statement, index++, value);
        }
    }

    private PreparedStatement prepare(String sql) throws SQLException {
        PreparedStatement known = prepared.get(sql);
        if (known != null) {
            return known;
        }
        if (prepared.size() == MAX_PREPARED) {
            var oldest = prepared.entrySet().iterator();
            oldest.next().getValue().close();
            oldest.remove();
        }
        PreparedStatement statement = connection.prepareStatement(sql);
        prepared.put(sql, statement);
        return statement;
    }

    private static boolean mayBeTriedAgain(SQLException e) {
        return e.getSQLState() != null && TRY_AGAIN.contains(e.getSQLState())
                || e.getNextException() != null && mayBeTriedAgain(e.getNextException());
    }

    private RefusedChange refused(int index, SQLException e) {
        return new RefusedChange(index, failed("the target refused a change", e), mayBeTriedAgain(e));
    }

    @Override
    public void commit() {
        try {
            connection.commit();
        } catch (SQLException e) {
            ToolException failure =
                    Failures.wrap(ErrorKind.READ, "the commit was not confirmed", address.toString(), e);
            throw failure.kind() == ErrorKind.BROKEN ? failure : failed("the target refused to commit", e);
        }
    }

    @Override
    public void rollback() {
        try {
            connection.rollback();
        } catch (SQLException e) {
            throw failed("can't take changes back", e);
        }
    }

    @Override
    public void close() {
        try (connection) {
            if (!connection.isClosed()) {
                takeBack();
            }
        } catch (SQLException e) {
            throw failed("can't close the connection after changes", e);
        }
    }

    private void takeBack() throws SQLException {
        List<String> recovery = how.dialect().recovery();
        try {
            connection.rollback();
        } catch (SQLException e) {
            if (recovery.isEmpty()) {
                throw e;
            }
            for (String statement : recovery) {
                try (Statement made = connection.createStatement()) {
                    made.execute(statement);
                }
            }
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.REFUSED, what, address.toString(), e);
    }
}
