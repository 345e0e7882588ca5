package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;

/**
 * A place behind a JDBC connection. Rows are read over the same connection, one query after the other, so that all of
 * them are seen in one state of the database; a query that is read while another one still is gets a connection of its
 * own.
 */
final class JdbcPlace implements Place {
    private final JdbcEngine engine;
    private final PlaceAccess access;
    private final Address address;
    private Connection connection;
    private boolean reading;

    JdbcPlace(JdbcEngine engine, PlaceAccess access) throws SQLException {
        this.engine = engine;
        this.access = access;
        this.address = access.label().withoutTable();
        this.connection = connect();
    }

    private Connection connect() throws SQLException {
        return engine.connector().connect(access, Connector.Access.READ_ONLY);
    }

    @Override
    public Address address() {
        return address;
    }

    @Override
    public Map<String, String> facts() {
        try {
            return engine.catalogue().facts(connection);
        } catch (SQLException e) {
            throw failed("can't ask what the place is like", e);
        }
    }

    @Override
    public String product() {
        try {
            var metadata = connection.getMetaData();
            return metadata.getDatabaseProductName() + " " + metadata.getDatabaseProductVersion();
        } catch (SQLException e) {
            throw failed("can't ask for the version", e);
        }
    }

    @Override
    public List<TableName> tables() {
        try {
            return engine.catalogue().tables(connection);
        } catch (SQLException e) {
            throw failed("can't list tables", e);
        }
    }

    @Override
    public TableShape describe(String table) {
        List<TableName> all = tables();
        Optional<TableName> exact =
                all.stream().filter(t -> t.toString().equals(table)).findFirst();
        List<TableName> alike = exact.map(List::of)
                .orElseGet(() -> all.stream()
                        .filter(t ->
                                t.toString().equalsIgnoreCase(table) || t.name().equalsIgnoreCase(table))
                        .toList());
        if (alike.size() != 1) {
            throw new ToolException(
                    ErrorKind.READ,
                    alike.isEmpty() ? "no such table" : "more than one table of this name",
                    address.withTable(table).toString(),
                    "there " + (all.isEmpty() ? "is no table here" : "are: " + someOf(alike.isEmpty() ? all : alike)));
        }
        try {
            return engine.catalogue().describe(connection, alike.get(0));
        } catch (SQLException e) {
            throw failed("can't read the columns of " + table, e);
        }
    }

    private static String someOf(List<TableName> tables) {
        String names = tables.stream().limit(12).map(TableName::toString).collect(Collectors.joining(", "));
        return tables.size() > 12 ? names + " and " + (tables.size() - 12) + " more" : names;
    }

    @Override
    public long countRows(TableName table) {
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(
                        "SELECT COUNT(*) FROM " + engine.dialect().quote(table))) {
            result.next();
            return result.getLong(1);
        } catch (SQLException e) {
            throw failed("can't count the rows of " + table, e);
        }
    }

    @Override
    public Estimate estimate(TableName table) {
        try {
            return engine.catalogue().estimate(connection, table);
        } catch (SQLException e) {
            throw failed("can't estimate the size of " + table, e);
        }
    }

    @Override
    public RowSource read(ReadRequest request) {
        Reading terms = engine.reading();
        StringBuilder sql = new StringBuilder("SELECT ")
                .append(request.columns().stream().map(terms::selectTerm).collect(Collectors.joining(", ")))
                .append(" FROM ")
                .append(engine.dialect().quote(request.table().name()));
        if (!request.after().isEmpty()) {
            sql.append(" WHERE ").append(behind(request.orderBy(), request.after()));
        }
        if (!request.orderBy().isEmpty()) {
            sql.append(request.orderBy().stream()
                    .map(terms::orderTerm)
                    .collect(Collectors.joining(", ", " ORDER BY ", "")));
        }
        String where = address.withTable(request.table().name().toString()).toString();
        try {
            boolean shared = !reading;
            Connection used = shared ? connection : connect();
            reading = reading || shared;
            return new JdbcRowSource(
                    open(used, sql.toString(), request.columns()),
                    request.columns().size(),
                    where,
                    release -> released(used, shared, release));
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't read rows", where, e);
        }
    }

    /** The condition of rows that come after a key: later in its first column, or equal there and later in the rest. */
    private String behind(List<ColumnShape> order, List<Value> key) {
        ColumnShape first = order.get(0);
        String later = engine.reading().isAfter(first, engine.dialect().literal(key.get(0), first));
        if (order.size() == 1) {
            return later;
        }
        var equal = new SqlText.Builder();
        engine.dialect().appendHolds(equal, first, key.get(0));
        return "(" + later + " OR " + equal.build().render(engine.dialect()::literal) + " AND "
                + behind(order.subList(1, order.size()), key.subList(1, key.size())) + ")";
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        try {
            Savepoint before = connection.getMetaData().supportsSavepoints() ? connection.setSavepoint() : null;
            try (Statement statement = connection.createStatement()) {
                statement
                        .executeQuery("SELECT 1 FROM " + engine.dialect().quote(table) + " WHERE 1 = 0")
                        .close();
                return Optional.empty();
            } catch (SQLException e) {
                if (before != null) {
                    connection.rollback(before);
                }
                return Optional.of(
                        String.valueOf(e.getMessage()).lines().findFirst().orElse(""));
            }
        } catch (SQLException e) {
            throw failed("can't look at " + table, e);
        }
    }

    private BulkReading.Stream open(Connection used, String sql, List<ColumnShape> columns) throws SQLException {
        Reading how = engine.reading();
        Optional<BulkReading> bulk = how.bulk().filter(b -> b.isAllowed(used));
        if (bulk.isPresent()) {
            return bulk.get().open(used, sql, columns);
        }
        return RowStream.open(used, how, sql, columns.stream().map(how::reader).toArray(CellReader[]::new));
    }

    private void released(Connection used, boolean shared, JdbcRowSource.Release release) {
        try {
            if (!shared) {
                used.rollback();
                used.close();
                return;
            }
            reading = false;
            if (release == JdbcRowSource.Release.SPENT) {
                used.close();
                connection = connect();
            } else if (!access.snapshot()) {
                used.rollback();
            }
        } catch (SQLException e) {
            throw failed("can't go on after reading was ended", e);
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.READ, what, address.toString(), e);
    }

    @Override
    public void close() {
        try {
            if (!connection.isClosed() && !connection.getAutoCommit()) {
                // Derby refuses to close within a transaction.
                connection.rollback();
            }
            connection.close();
        } catch (SQLException e) {
            throw failed("can't close the place", e);
        }
    }
}
