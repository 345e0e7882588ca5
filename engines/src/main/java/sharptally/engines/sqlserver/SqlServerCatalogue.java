package sharptally.engines.sqlserver;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.SideEffects.Reaction;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Asked;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.catalogue.ForeignKeys;
import sharptally.engines.jdbc.catalogue.Grouped;
import sharptally.engines.jdbc.catalogue.Reactions;

/** Reads the catalogue views of a database. Tables of the user's own schema go by their bare names. */
final class SqlServerCatalogue implements Catalogue {
    private static final String OWN = "SELECT SCHEMA_NAME()";

    /** Objects that hold rows, with their schemas; behind FROM. */
    private static final String OBJECTS =
            "sys.objects o JOIN sys.schemas s ON s.schema_id = o.schema_id AND o.is_ms_shipped = 0";

    @Override
    public Optional<String> product() {
        return Optional.of(
                "SQL Server (its makers have not proved this engine on a real server; survey can probe yours)");
    }

    @Override
    public String ownSchema(Connection connection) throws SQLException {
        return Rows.read(connection, OWN, row -> row.getString(1)).get(0);
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        Rows.read(
                connection,
                "SELECT ORIGINAL_LOGIN(), DB_NAME(), CONVERT(nvarchar(128), DATABASEPROPERTYEX(DB_NAME(), 'Collation')),"
                        + " CONVERT(nvarchar(128), SERVERPROPERTY('ProductVersion')),"
                        + " (SELECT snapshot_isolation_state FROM sys.databases WHERE database_id = DB_ID())",
                row -> {
                    facts.put("version", row.getString(4));
                    facts.put("user", row.getString(1));
                    facts.put("database", row.getString(2));
                    facts.put("collation", row.getString(3));
                    return facts.put(
                            "one state",
                            row.getInt(5) == 1
                                    ? "of each transaction"
                                    : "no: ALLOW_SNAPSHOT_ISOLATION is off in this database");
                });
        return facts;
    }

    private static TableName named(String own, String schema, String name) {
        return new TableName(Optional.of(schema).filter(s -> !s.equals(own)), name);
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        String own = ownSchema(connection);
        return Rows.read(
                connection,
                "SELECT s.name, o.name FROM " + OBJECTS + " WHERE o.type IN ('U', 'V') ORDER BY 1, 2",
                row -> named(own, row.getString(1), row.getString(2)));
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT SUM(CASE WHEN a.type = 1 THEN p.rows ELSE 0 END), SUM(a.total_pages) * 8192 FROM "
                                + OBJECTS
                                + " JOIN sys.partitions p ON p.object_id = o.object_id AND p.index_id IN (0, 1)"
                                + " JOIN sys.allocation_units a ON a.container_id = p.hobt_id"
                                + " WHERE s.name = ? AND o.name = ? HAVING COUNT(*) > 0",
                        row -> Estimate.of(row.getLong(1), row.getLong(2)),
                        schema(connection, table),
                        table.name())
                .stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    private String schema(Connection connection, TableName table) throws SQLException {
        return table.schema().isPresent() ? table.schema().get() : ownSchema(connection);
    }

    /** What a user has no right to is not listed. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) throws SQLException {
        boolean all = Rows.read(
                        connection, "SELECT HAS_PERMS_BY_NAME(DB_NAME(), 'DATABASE', 'SELECT')", row -> row.getInt(1))
                .contains(1);
        boolean whole = all
                || table.isPresent()
                        && Rows.read(
                                        connection,
                                        "SELECT HAS_PERMS_BY_NAME(QUOTENAME(?) + '.' + QUOTENAME(?), 'OBJECT', 'SELECT')",
                                        row -> row.getInt(1),
                                        schema(connection, table.get()),
                                        table.get().name())
                                .contains(1);
        return whole
                ? Optional.empty()
                : Optional.of("the user may not read all of "
                        + table.map(TableName::name).orElse("this database")
                        + ", and SQL Server does not show what a user may not read");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String own = ownSchema(connection);
        String schema = schema(connection, table);
        Asked asked = new Asked(connection, Optional.of(table.name()), Optional.of(schema));
        String what = table.name();
        boolean view = asked.read(
                        "SELECT o.type, o.name AS of_table FROM " + OBJECTS + " WHERE s.name = ? AND o.name = :table",
                        row -> row.getString(1).strip())
                .getOrDefault(what, List.of())
                .contains("V");
        // A trigger is in the schema of its table.
        List<TableName> triggers = asked.read(
                        "SELECT g.name, o.name AS of_table FROM " + OBJECTS + " JOIN sys.triggers g ON g.parent_id ="
                                + " o.object_id AND g.is_disabled = 0 WHERE s.name = ? AND o.name = :table"
                                + " ORDER BY g.name",
                        row -> new TableName(table.schema(), row.getString(1)))
                .getOrDefault(what, List.of());
        List<Reaction> reactions = Reactions.read(asked, (s, n) -> named(own, s, n), """
                        SELECT k.name, rs.name, ro.name, COL_NAME(kc.parent_object_id, kc.parent_column_id),
                               COL_NAME(kc.referenced_object_id, kc.referenced_column_id),
                               k.delete_referential_action_desc, o.name AS of_table
                        FROM <objects> JOIN sys.foreign_keys k ON k.referenced_object_id = o.object_id
                        JOIN sys.foreign_key_columns kc ON kc.constraint_object_id = k.object_id
                        JOIN sys.objects ro ON ro.object_id = k.parent_object_id
                        JOIN sys.schemas rs ON rs.schema_id = ro.schema_id
                        WHERE k.delete_referential_action <> 0 AND s.name = ? AND o.name = :table
                        ORDER BY k.name, kc.constraint_column_id
                        """.replace("<objects>", OBJECTS))
                .getOrDefault(what, List.of());
        List<ForeignKey> foreignKeys = ForeignKeys.read(
                        asked, (s, n) -> named(own, s, n), """
                        SELECT k.name, COL_NAME(kc.parent_object_id, kc.parent_column_id), rs.name, ro.name,
                               COL_NAME(kc.referenced_object_id, kc.referenced_column_id), o.name AS of_table
                        FROM <objects> JOIN sys.foreign_keys k ON k.parent_object_id = o.object_id
                        JOIN sys.foreign_key_columns kc ON kc.constraint_object_id = k.object_id
                        JOIN sys.objects ro ON ro.object_id = k.referenced_object_id
                        JOIN sys.schemas rs ON rs.schema_id = ro.schema_id
                        WHERE s.name = ? AND o.name = :table
                        ORDER BY k.name, kc.constraint_column_id
                        """.replace("<objects>", OBJECTS))
                .getOrDefault(what, List.of());
        return new TableShape(table, view, columns(asked, what), keys(asked, what), foreignKeys, !triggers.isEmpty())
                .with(new SideEffects(List.of(), reactions, true, false).withRunning(triggers));
    }

    private static List<ColumnShape> columns(Asked asked, String table) throws SQLException {
        return asked.read("""
                        SELECT c.name, CASE WHEN c.system_type_id = 240 THEN TYPE_NAME(c.user_type_id)
                               ELSE TYPE_NAME(c.system_type_id) END AS type, c.max_length, c.precision, c.scale,
                               c.is_nullable, c.is_identity, c.is_computed, c.generated_always_type, c.collation_name,
                               o.name AS of_table
                        FROM <objects> JOIN sys.columns c ON c.object_id = o.object_id
                        WHERE c.is_column_set = 0 AND s.name = ? AND o.name = :table
                        ORDER BY c.column_id
                        """.replace("<objects>", OBJECTS), SqlServerCatalogue::column)
                .getOrDefault(table, List.of());
    }

    private static ColumnShape column(ResultSet row) throws SQLException {
        String type = String.valueOf(row.getString("type")).toLowerCase(Locale.ROOT);
        int scale = row.getInt("scale");
        boolean made =
                row.getBoolean("is_computed") || row.getInt("generated_always_type") != 0 || type.equals("timestamp");
        return new ColumnShape(
                row.getString("name"),
                SqlServerTypes.declared(type, row.getInt("max_length"), row.getInt("precision"), scale),
                SqlServerTypes.canonical(type, scale),
                row.getBoolean("is_nullable"),
                made
                        ? Generation.COMPUTED
                        : row.getBoolean("is_identity") ? Generation.IDENTITY_ALWAYS : Generation.NONE,
                Optional.ofNullable(row.getString("collation_name")));
    }

    /** A column of a unique index over all rows. */
    private record KeyPart(String index, boolean primary, String column) {}

    private static List<KeyShape> keys(Asked asked, String table) throws SQLException {
        List<KeyPart> parts = new ArrayList<>(asked.read(
                        """
                        SELECT i.name, i.is_primary_key, c.name, o.name AS of_table
                        FROM <objects> JOIN sys.indexes i ON i.object_id = o.object_id AND i.is_unique = 1
                         AND i.has_filter = 0 AND i.is_disabled = 0
                        JOIN sys.index_columns ic ON ic.object_id = i.object_id AND ic.index_id = i.index_id
                         AND ic.is_included_column = 0 AND ic.key_ordinal > 0
                        JOIN sys.columns c ON c.object_id = ic.object_id AND c.column_id = ic.column_id
                        WHERE s.name = ? AND o.name = :table
                        ORDER BY i.is_primary_key DESC, i.name, ic.key_ordinal
                        """.replace("<objects>", OBJECTS),
                        row -> new KeyPart(row.getString(1), row.getBoolean(2), row.getString(3)))
                .getOrDefault(table, List.of()));
        return Grouped.by(parts, KeyPart::index).stream()
                .map(key -> new KeyShape(
                        key.get(0).primary(), key.stream().map(KeyPart::column).toList()))
                .toList();
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            String type = told.getColumnTypeName(i).toLowerCase(Locale.ROOT).replace(" identity", "");
            int size = told.getPrecision(i);
            return QueryColumns.column(
                    told.getColumnLabel(i),
                    SqlServerTypes.declared(type, type.startsWith("n") ? size * 2 : size, size, told.getScale(i)),
                    SqlServerTypes.canonical(type, told.getScale(i)),
                    Optional.empty());
        });
    }
}
