package sharptally.engines.trino;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Catalogue;

/**
 * Reads the information schema of one catalogue. Trino knows no keys. Schemas are told with their catalogue, so that tables
 * of two of them can be named in one statement; tables of the address's own schema go by their bare names.
 */
final class TrinoCatalogue implements Catalogue {
    private static final String CATALOGUE = "SELECT current_catalog, coalesce(current_schema, '')";

    @Override
    public String ownSchema(Connection connection) throws SQLException {
        return Rows.read(connection, CATALOGUE, row -> row.getString(1) + "." + row.getString(2))
                .get(0);
    }

    private static String catalogue(Connection connection) throws SQLException {
        return Rows.read(connection, CATALOGUE, row -> row.getString(1)).get(0);
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        Rows.read(connection, "SELECT current_user, current_catalog, current_timezone()", row -> {
            facts.put("user", row.getString(1));
            facts.put("catalogue", row.getString(2));
            return facts.put("time zone", row.getString(3));
        });
        facts.put(
                "catalogues",
                String.join(
                        ", ",
                        Rows.read(
                                connection,
                                "SELECT catalog_name FROM system.metadata.catalogs ORDER BY 1",
                                row -> row.getString(1))));
        return facts;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        String own = ownSchema(connection);
        String catalogue = catalogue(connection);
        return Rows.read(
                connection,
                "SELECT table_schema, table_name FROM " + TrinoDialect.quoted(catalogue)
                        + ".information_schema.tables WHERE table_schema <> 'information_schema' ORDER BY 1, 2",
                row -> new TableName(
                        Optional.of(catalogue + "." + row.getString(1)).filter(schema -> !schema.equals(own)),
                        row.getString(2)));
    }

    /** How many rows there are is told by catalogues that know it. */
    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                        connection,
                        "SHOW STATS FOR " + new TrinoDialect().quote(table),
                        row -> row.getString("column_name") == null ? row.getDouble("row_count") : 0)
                .stream()
                .filter(rows -> rows > 0)
                .map(rows -> Estimate.of(Math.round(rows), 0))
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.of("a system behind Trino may leave out what its user has no right to see");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String schema = table.schema().isPresent() ? table.schema().get() : ownSchema(connection);
        int dot = schema.indexOf('.');
        String within = TrinoDialect.quoted(schema.substring(0, dot)) + ".information_schema.";
        String of = " WHERE table_schema = ? AND table_name = ?";
        boolean view = Rows.read(
                        connection,
                        "SELECT table_type FROM " + within + "tables" + of,
                        row -> row.getString(1),
                        schema.substring(dot + 1),
                        table.name())
                .contains("VIEW");
        List<ColumnShape> columns = Rows.read(
                connection,
                "SELECT column_name, data_type, is_nullable FROM " + within + "columns" + of
                        + " ORDER BY ordinal_position",
                row -> new ColumnShape(
                        row.getString(1),
                        row.getString(2),
                        TrinoTypes.canonical(row.getString(2)),
                        !"NO".equals(row.getString(3)),
                        Generation.NONE,
                        Optional.empty()),
                schema.substring(dot + 1),
                table.name());
        return new TableShape(table, view, columns, List.of(), List.of(), false)
                .with(new SideEffects(List.of(), List.of(), false, false));
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            // The driver sets the digits behind the words.
            String type = told.getColumnTypeName(i)
                    .replaceAll("^(time|timestamp) with time zone(\\(\\d+\\))$", "$1$2 with time zone");
            return QueryColumns.column(told.getColumnLabel(i), type, TrinoTypes.canonical(type), Optional.empty());
        });
    }
}
