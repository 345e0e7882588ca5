package sharptally.engines.sqlite;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
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
import sharptally.engines.jdbc.catalogue.DeclarationQuery;

/** Reads the schema by SQLite's own pragma functions. */
final class SqliteCatalogue implements Catalogue {
    @Override
    public List<DeclarationQuery> declarations(Connection connection) {
        return SqliteDeclarations.ALL;
    }

    @Override
    public String ownSchema(Connection connection) {
        return "main";
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        return Rows.read(connection, """
                SELECT name FROM pragma_table_list
                WHERE schema = 'main' AND type IN ('table', 'view', 'virtual')
                  AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\'
                ORDER BY name
                """, row -> TableName.of(row.getString(1)));
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("TLS", "none: a file on this machine");
        Rows.read(
                connection,
                "SELECT encoding FROM pragma_encoding",
                row -> facts.put("character set", row.getString(1)));
        Rows.read(
                connection,
                "SELECT journal_mode FROM pragma_journal_mode",
                row -> facts.put("journal", row.getString(1)));
        return facts;
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        boolean hasRowid = !Rows.read(
                        connection,
                        "SELECT 1 FROM pragma_table_list(?) WHERE schema = 'main' AND type = 'table' AND wr = 0",
                        row -> 1,
                        table.name())
                .isEmpty();
        // The largest row number is found at once; where rows were deleted, there are fewer.
        String sql = "SELECT coalesce(max(rowid), 0) FROM " + SqliteDialect.quoted(table.name());
        return hasRowid
                ? Estimate.ofRows(
                        Rows.read(connection, sql, row -> row.getLong(1)).get(0))
                : Estimate.UNKNOWN;
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            // What is no column of a table has no declared type; the driver then tells the one of the value, or this.
            boolean declared = !told.getColumnTypeName(i).equals("NUMERIC");
            String type = declared ? told.getColumnTypeName(i) : "";
            return QueryColumns.column(
                    told.getColumnLabel(i), type, Optional.of(SqliteTypes.canonical(type)), Optional.of("declared"));
        });
    }

    /** The catalogue shows all that is there, whoever asks. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String ddl = String.join(
                "",
                Rows.read(
                        connection,
                        "SELECT coalesce(sql, '') FROM sqlite_schema WHERE name = ? AND type IN ('table', 'view')",
                        row -> row.getString(1),
                        table.name()));
        // The collation of a column is not told by any pragma; where the table names one at all, all its text is
        // taken to have one.
        boolean collated = ddl.toUpperCase(Locale.ROOT).contains("COLLATE");
        boolean view = ddl.stripLeading().toUpperCase(Locale.ROOT).startsWith("CREATE VIEW")
                || ddl.toUpperCase(Locale.ROOT).matches("(?s)\\s*CREATE\\s+(TEMP\\w*\\s+)?VIEW.*");
        Map<Integer, String> primary = new TreeMap<>();
        List<ColumnShape> columns = Rows.read(
                connection,
                "SELECT name, type, \"notnull\", pk, hidden FROM pragma_table_xinfo(?) WHERE hidden <> 1 ORDER BY cid",
                row -> {
                    if (row.getInt("pk") > 0) {
                        primary.put(row.getInt("pk"), row.getString("name"));
                    }
                    return column(row, collated);
                },
                table.name());
        List<KeyShape> keys = new ArrayList<>();
        if (!primary.isEmpty()) {
            keys.add(new KeyShape(true, List.copyOf(primary.values())));
        }
        keys.addAll(uniqueKeys(connection, table));
        boolean triggers = !Rows.read(
                        connection,
                        "SELECT 1 FROM sqlite_schema WHERE type = 'trigger' AND tbl_name = ?",
                        row -> 1,
                        table.name())
                .isEmpty();
        return new TableShape(table, view, columns, keys, foreignKeys(connection, table), triggers);
    }

    private static ColumnShape column(ResultSet row, boolean collated) throws SQLException {
        String declared = row.getString("type");
        boolean primary = row.getInt("pk") > 0;
        boolean computed = row.getInt("hidden") >= 2;
        boolean rowid = primary && declared.equalsIgnoreCase("INTEGER");
        return new ColumnShape(
                row.getString("name"),
                declared.isEmpty() ? "no type" : declared,
                Optional.of(SqliteTypes.canonical(declared)),
                row.getInt("notnull") == 0 && !primary,
                computed ? Generation.COMPUTED : rowid ? Generation.IDENTITY : Generation.NONE,
                collated ? Optional.of("declared") : Optional.empty());
    }

    private static List<KeyShape> uniqueKeys(Connection connection, TableName table) throws SQLException {
        Map<String, List<String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> usable = new LinkedHashMap<>();
        Rows.read(
                connection,
                """
                SELECT l.name, i.cid, i.name AS column_name
                FROM pragma_index_list(?) AS l
                JOIN pragma_index_xinfo(l.name) AS i
                WHERE l."unique" = 1 AND l.partial = 0 AND l.origin <> 'pk' AND i."key" = 1
                ORDER BY l.seq, i.seqno
                """,
                row -> {
                    usable.merge(row.getString(1), row.getInt("cid") >= 0, Boolean::logicalAnd);
                    columns.computeIfAbsent(row.getString(1), n -> new ArrayList<>())
                            .add(String.valueOf(row.getString("column_name")));
                    return 1;
                },
                table.name());
        return columns.entrySet().stream()
                .filter(index -> usable.get(index.getKey()))
                .map(index -> new KeyShape(false, index.getValue()))
                .toList();
    }

    private static List<ForeignKey> foreignKeys(Connection connection, TableName table) throws SQLException {
        Map<Integer, List<String[]>> parts = new TreeMap<>();
        Rows.read(
                connection,
                "SELECT id, \"table\", \"from\", coalesce(\"to\", '') FROM pragma_foreign_key_list(?) ORDER BY id, seq",
                row -> parts.computeIfAbsent(row.getInt(1), id -> new ArrayList<>())
                        .add(new String[] {row.getString(2), row.getString(3), row.getString(4)}),
                table.name());
        return parts.values().stream()
                .map(key -> new ForeignKey(
                        key.stream().map(part -> part[1]).toList(),
                        TableName.of(key.get(0)[0]),
                        key.stream().map(part -> part[2]).toList()))
                .toList();
    }
}
