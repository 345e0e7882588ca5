package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Address;
import sharptally.core.place.Extract;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.Fragment;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.Selects;

/** Finds out what tables and extracts of a place are like, before any row of them is read. */
record Describing(JdbcEngine engine, Address address, Connection connection) {
    /** The table that a name means; see {@code Place.describe}. */
    TableName named(String table, List<TableName> all, String ownSchema) {
        List<TableName> alike = TableName.called(all, table, ownSchema);
        if (alike.size() != 1) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    alike.isEmpty() ? "no such table" : "more than one table of this name",
                    address.withTable(table).toString(),
                    all.isEmpty()
                            ? "there is no table here"
                            : alike.isEmpty()
                                    ? Nearest.hint(
                                            table,
                                            all.stream()
                                                    .map(TableName::toString)
                                                    .toList(),
                                            "there are: ")
                                    : "there are: " + someOf(alike));
        }
        return alike.get(0);
    }

    private static String someOf(List<TableName> tables) {
        String names = tables.stream().limit(12).map(TableName::toString).collect(Collectors.joining(", "));
        return tables.size() > 12 ? names + " and " + (tables.size() - 12) + " more" : names;
    }

    /** The extract over a table already described; with a query, over that. */
    TableShape extract(Extract extract, Optional<TableShape> table) {
        Selects selects = new Selects(engine);
        TableShape base = table.orElseGet(() -> {
            String query = Fragment.checked(engine, trimmed(extract.query().orElseThrow()));
            List<ColumnShape> columns = columnsOf(query, extract.name(), "query");
            return TableShape.ofQuery(TableName.of(extract.name()), query, columns);
        });
        if (extract.where().isPresent()) {
            base = base.and(new RowFilter.Condition(trimmed(extract.where().get())));
            columnsOf("SELECT COUNT(*) AS n FROM " + selects.from(base, List.of(), List.of()), extract.name(), "where");
        }
        TableShape shape = base;
        for (Map.Entry<String, String> column : new TreeMap<>(extract.computed()).entrySet()) {
            String sql = trimmed(column.getValue());
            String name = base.column(column.getKey()).map(ColumnShape::name).orElse(column.getKey());
            ColumnShape asked = new ColumnShape(
                    name, "", Optional.empty(), true, sharptally.core.shape.Generation.COMPUTED, Optional.empty());
            String query = "SELECT " + engine.terms().quote(name) + " FROM "
                    + selects.from(base, List.of(asked.computedBy(name, sql)), List.of());
            ColumnShape told =
                    columnsOf(query, extract.name(), "column " + name).get(0);
            shape = shape.with(told.computedBy(name, sql));
        }
        return shape;
    }

    private static String trimmed(String sql) {
        return sql.strip().replaceAll("(\\s*;)+$", "");
    }

    private List<ColumnShape> columnsOf(String query, String extract, String part) {
        try {
            return guarded(() -> engine.catalogue().describeQuery(connection, query));
        } catch (SQLException e) {
            throw new ToolException(
                    String.valueOf(e.getSQLState()).startsWith("08") ? ErrorKind.READ : ErrorKind.USAGE,
                    "the database refused an expression",
                    extract + ", " + part + " ("
                            + String.valueOf(e.getMessage()).lines().findFirst().orElse("") + ")",
                    "fix it in the job file; it is SQL of " + address,
                    e);
        }
    }

    private interface Asking<T> {
        T ask() throws SQLException;
    }

    /** Asks something that may fail, so that the transaction lives on if it does. */
    private <T> T guarded(Asking<T> asking) throws SQLException {
        if (!connection.getMetaData().supportsSavepoints()) {
            return asking.ask();
        }
        Savepoint before = connection.setSavepoint();
        try {
            T answer = asking.ask();
            // While one is kept, some servers let nobody else share the state that this transaction sees.
            connection.releaseSavepoint(before);
            return answer;
        } catch (SQLException e) {
            connection.rollback(before);
            throw e;
        }
    }

    /** Why a table can't be read; see {@code Place.readProblem}. */
    Optional<String> readProblem(TableName table) {
        try {
            return guarded(() -> {
                try (Statement statement = connection.createStatement()) {
                    statement
                            .executeQuery("SELECT 1 FROM " + engine.terms().quote(table) + " WHERE 1 = 0")
                            .close();
                    return Optional.empty();
                }
            });
        } catch (SQLException e) {
            return Optional.of(
                    String.valueOf(e.getMessage()).lines().findFirst().orElse(""));
        }
    }
}
