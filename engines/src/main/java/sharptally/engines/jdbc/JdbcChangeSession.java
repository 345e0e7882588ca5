package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.Map;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.ChangeSession;
import sharptally.core.sql.SqlText;
import sharptally.core.sql.SqlText.Bound;

/** Changes through a JDBC connection, statements of the same text prepared once. */
final class JdbcChangeSession implements ChangeSession {
    private static final int MAX_PREPARED = 64;

    private final JdbcEngine engine;
    private final Address address;
    private final Connection connection;
    private final Map<String, PreparedStatement> prepared = new LinkedHashMap<>(16, 0.75f, true);

    JdbcChangeSession(JdbcEngine engine, Address address, Connection connection) {
        this.engine = engine;
        this.address = address;
        this.connection = connection;
    }

    @Override
    public long execute(SqlText change) {
        try {
            if (!change.values().stream().allMatch(engine.binding()::carries)) {
                try (Statement statement = connection.createStatement()) {
                    return statement.executeLargeUpdate(change.render(engine.dialect()::literal));
                }
            }
            PreparedStatement statement = prepare(change.render((value, column) -> "?"));
            int index = 1;
            for (Bound value : change.values()) {
                engine.binding().bind(statement, index++, value);
            }
            return statement.executeLargeUpdate();
        } catch (SQLException e) {
            throw failed("the target refused a change", e);
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

    @Override
    public void commit() {
        try {
            connection.commit();
        } catch (SQLException e) {
            throw failed("the target refused to commit", e);
        }
    }

    @Override
    public void close() {
        try (connection) {
            if (!connection.isClosed()) {
                connection.rollback();
            }
        } catch (SQLException e) {
            throw failed("can't close the place after changes", e);
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.REFUSED, what, address.toString(), e);
    }
}
