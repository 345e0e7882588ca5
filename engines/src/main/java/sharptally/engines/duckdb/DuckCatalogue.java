package sharptally.engines.duckdb;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Catalogue;

/** Reads DuckDB's catalogue functions. Tables of schema main go by their bare name. */
final class DuckCatalogue implements Catalogue {
    private static final String DEFAULT_SCHEMA = "main";
    private static final String BETWEEN = "\u001f";

    @Override
    public String ownSchema(Connection connection) {
        return DEFAULT_SCHEMA;
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("TLS", "none: a file on this machine");
        facts.put("character set", "UTF-8");
        return facts;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        return Rows.read(connection, """
                SELECT schema_name, table_name FROM duckdb_tables()
                WHERE NOT internal AND NOT temporary AND database_name = current_database()
                UNION ALL
                SELECT schema_name, view_name FROM duckdb_views()
                WHERE NOT internal AND NOT temporary AND database_name = current_database()
                ORDER BY 1, 2
                """, row -> name(row.getString(1), row.getString(2)));
    }

    private static TableName name(String schema, String table) {
        return schema.equals(DEFAULT_SCHEMA) ? TableName.of(table) : TableName.of(schema, table);
    }

    private static String[] which(TableName table) {
        return new String[] {table.schema().orElse(DEFAULT_SCHEMA), table.name()};
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(connection, """
                        SELECT estimated_size FROM duckdb_tables()
                        WHERE database_name = current_database() AND schema_name = ? AND table_name = ?
                        """, row -> Estimate.ofRows(row.getLong(1)), which(table)).stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return Rows.read(
                connection,
                "DESCRIBE SELECT * FROM (" + query + "\n) tally_described",
                row -> QueryColumns.column(
                        row.getString("column_name"),
                        row.getString("column_type"),
                        Optional.of(DuckTypes.canonical(row.getString("column_type"))),
                        Optional.empty()));
    }

    /** The catalogue shows all that is there, whoever asks. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        List<String> ddl = Rows.read(connection, """
                SELECT sql FROM duckdb_tables()
                WHERE database_name = current_database() AND schema_name = ? AND table_name = ?
                """, row -> row.getString(1), which(table));
        List<ColumnShape> columns = Rows.read(
                connection,
                """
                SELECT column_name, data_type, is_nullable, coalesce(column_default, '') FROM duckdb_columns()
                WHERE database_name = current_database() AND schema_name = ? AND table_name = ?
                ORDER BY column_index
                """,
                row -> column(
                        row.getString(1),
                        row.getString(2),
                        row.getBoolean(3),
                        row.getString(4),
                        ddl.isEmpty() ? "" : ddl.get(0)),
                which(table));
        return new TableShape(
                table, ddl.isEmpty(), columns, keys(connection, table), foreignKeys(connection, table), false);
    }

    /** Which columns are computed stands only in the statement that made the table. */
    private static ColumnShape column(String name, String type, boolean nullable, String standard, String ddl) {
        String written = "(" + Pattern.quote(DuckDialect.quoted(name)) + "|\\b" + Pattern.quote(name) + ")";
        boolean computed = ddl.contains(" GENERATED ALWAYS AS")
                && Pattern.compile(written + "\\s+" + Pattern.quote(type) + "\\s+GENERATED ALWAYS AS")
                        .matcher(ddl)
                        .find();
        return new ColumnShape(
                name,
                type,
                Optional.of(DuckTypes.canonical(type)),
                nullable,
                computed
                        ? Generation.COMPUTED
                        : standard.startsWith("nextval(") ? Generation.IDENTITY : Generation.NONE,
                Optional.empty());
    }

    private static List<KeyShape> keys(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                connection, """
                SELECT constraint_type = 'PRIMARY KEY', array_to_string(constraint_column_names, chr(31))
                FROM duckdb_constraints()
                WHERE database_name = current_database() AND schema_name = ? AND table_name = ?
                  AND constraint_type IN ('PRIMARY KEY', 'UNIQUE')
                ORDER BY 1 DESC, constraint_index
                """, row -> new KeyShape(row.getBoolean(1), split(row.getString(2))), which(table));
    }

    private static List<ForeignKey> foreignKeys(Connection connection, TableName table) throws SQLException {
        return new ArrayList<>(Rows.read(
                connection,
                """
                SELECT array_to_string(constraint_column_names, chr(31)), referenced_table,
                       array_to_string(referenced_column_names, chr(31))
                FROM duckdb_constraints()
                WHERE database_name = current_database() AND schema_name = ? AND table_name = ?
                  AND constraint_type = 'FOREIGN KEY'
                ORDER BY constraint_index
                """,
                row -> new ForeignKey(split(row.getString(1)), TableName.of(row.getString(2)), split(row.getString(3))),
                which(table)));
    }

    private static List<String> split(String names) {
        return Arrays.asList(names.split(BETWEEN));
    }
}
