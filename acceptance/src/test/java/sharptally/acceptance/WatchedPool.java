package sharptally.acceptance;

import java.io.PrintWriter;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.logging.Logger;
import javax.sql.DataSource;

/**
 * A pool as an application has it: connections are handed out, taken back and handed out again, in sessions that the
 * application has set up in a way of its own. Safe for use by several threads.
 */
final class WatchedPool implements DataSource, AutoCloseable {
    private final Database database;
    private final Deque<Connection> idle = new ArrayDeque<>();
    private final Map<Connection, String> before = new LinkedHashMap<>();
    private int lent;
    private int most;

    WatchedPool(Database database) {
        this.database = database;
    }

    @Override
    public synchronized Connection getConnection() throws SQLException {
        Connection connection = idle.poll();
        if (connection == null) {
            connection = database.connect();
            for (String sql : setUp()) {
                try (Statement statement = connection.createStatement()) {
                    statement.execute(sql);
                }
            }
            if (database.kind() != Database.Kind.DUCKDB) {
                connection.setTransactionIsolation(Connection.TRANSACTION_SERIALIZABLE);
            }
            before.put(connection, state(connection));
        }
        lent++;
        most = Math.max(most, lent);
        Connection real = connection;
        return (Connection) Proxy.newProxyInstance(
                Connection.class.getClassLoader(), new Class<?>[] {Connection.class}, (proxy, method, arguments) -> {
                    if (method.getName().equals("close")) {
                        takeBack(real);
                        return null;
                    }
                    try {
                        return method.invoke(real, arguments);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }

    private synchronized void takeBack(Connection connection) throws SQLException {
        lent--;
        if (!connection.isClosed()) {
            idle.add(connection);
        }
    }

    private List<String> setUp() {
        return switch (database.kind().like()) {
            case POSTGRESQL ->
                List.of(
                        "SET timezone = 'America/St_Johns'",
                        "SET datestyle = 'ISO, DMY'",
                        "SET extra_float_digits = 0",
                        "SET statement_timeout = '59min'",
                        "SET lock_timeout = '7s'",
                        "SET application_name = 'the application'");
            case MARIADB ->
                List.of(
                        "SET time_zone = '-03:30'",
                        "SET sql_mode = 'ANSI_QUOTES'",
                        "SET innodb_lock_wait_timeout = 7",
                        // MySQL 5.6 ends no statement by itself.
                        database.kind() == Database.Kind.MYSQL ? "DO 1" : "SET max_statement_time = 3000");
            case H2 -> List.of("SET TIME ZONE 'America/St_Johns'");
            case DUCKDB -> List.of("SET TimeZone = 'America/St_Johns'");
            default -> List.of();
        };
    }

    /** All that the engine tells of a session, and what the driver keeps. */
    private String state(Connection connection) throws SQLException {
        String query = switch (database.kind().like()) {
            case POSTGRESQL -> "SELECT name || '=' || setting FROM pg_settings ORDER BY name";
            case MARIADB ->
                "SELECT CONCAT(VARIABLE_NAME, '=', VARIABLE_VALUE) FROM information_schema.SESSION_VARIABLES"
                        + " WHERE VARIABLE_NAME NOT IN ('TIMESTAMP', 'RAND_SEED1', 'RAND_SEED2', 'IN_TRANSACTION',"
                        + " 'LAST_GTID', 'ERROR_COUNT', 'WARNING_COUNT', 'LAST_INSERT_ID', 'IDENTITY', 'INSERT_ID')"
                        + " AND VARIABLE_NAME NOT LIKE 'GTID%' AND VARIABLE_NAME NOT LIKE 'INNODB_BUFFER%'"
                        + " ORDER BY 1";
            case H2 ->
                "SELECT SETTING_NAME || '=' || SETTING_VALUE FROM INFORMATION_SCHEMA.SETTINGS"
                        + " WHERE SETTING_NAME NOT LIKE 'info.%' ORDER BY 1";
            case DUCKDB -> "SELECT name || '=' || coalesce(value, '') FROM duckdb_settings() WHERE name = 'TimeZone'";
            default -> "PRAGMA query_only";
        };
        List<String> all = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            while (row.next()) {
                all.add(row.getString(1));
            }
        }
        return connection.getAutoCommit() + " " + connection.isReadOnly() + " " + connection.getTransactionIsolation()
                + "\n" + String.join("\n", all);
    }

    /** What is not as it was, now that nothing is to be lent any more; empty where all is. */
    synchronized List<String> complaints() throws SQLException {
        List<String> complaints = new ArrayList<>();
        if (lent != 0) {
            complaints.add(lent + " connections were not given back");
        }
        for (Map.Entry<Connection, String> each : before.entrySet()) {
            if (!each.getKey().isClosed()) {
                List<String> was = each.getValue().lines().toList();
                List<String> now = new ArrayList<>(state(each.getKey()).lines().toList());
                now.removeAll(was);
                complaints.addAll(now);
            }
        }
        return complaints;
    }

    /** How many connections were lent at once. */
    synchronized int most() {
        return most;
    }

    @Override
    public synchronized void close() throws SQLException {
        for (Connection connection : before.keySet()) {
            connection.close();
        }
    }

    @Override
    public Connection getConnection(String user, String password) throws SQLException {
        return getConnection();
    }

    @Override
    public PrintWriter getLogWriter() {
        return new PrintWriter(PrintWriter.nullWriter());
    }

    @Override
    public void setLogWriter(PrintWriter out) {
        // nothing is logged
    }

    @Override
    public void setLoginTimeout(int seconds) {
        // the driver's own
    }

    @Override
    public int getLoginTimeout() {
        return 0;
    }

    @Override
    public Logger getParentLogger() {
        return Logger.getGlobal();
    }

    @Override
    public <T> T unwrap(Class<T> type) throws SQLException {
        throw new SQLException("a pool of our own");
    }

    @Override
    public boolean isWrapperFor(Class<?> type) {
        return false;
    }
}
