package sharptally.engines.oracle;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
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

/** Reads the data dictionary, of what the user may see. Tables of the current schema go by their bare names. */
final class OracleCatalogue implements Catalogue {
    private static final String OWN = "SELECT SYS_CONTEXT('USERENV', 'CURRENT_SCHEMA') FROM DUAL";
    private static final String NOT_THE_SYSTEM_S =
            "owner NOT IN (SELECT username FROM all_users WHERE oracle_maintained = 'Y')";

    @Override
    public Optional<String> product() {
        return Optional.of(
                "Oracle Database (its makers have not proved this engine on a real server; survey can probe yours)");
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
                "SELECT SYS_CONTEXT('USERENV', 'SESSION_USER'), SYS_CONTEXT('USERENV', 'CURRENT_SCHEMA'),"
                        + " SYS_CONTEXT('USERENV', 'SERVICE_NAME'),"
                        + " (SELECT value FROM nls_database_parameters WHERE parameter = 'NLS_CHARACTERSET'),"
                        + " (SELECT value FROM nls_database_parameters WHERE parameter = 'NLS_RDBMS_VERSION') FROM DUAL",
                row -> {
                    facts.put("version", row.getString(5));
                    facts.put("user", row.getString(1));
                    facts.put("schema", row.getString(2));
                    facts.put("service", row.getString(3));
                    facts.put("character set", row.getString(4));
                    return facts.put("empty text", "is NULL there");
                });
        return facts;
    }

    private static TableName named(String own, String schema, String name) {
        return new TableName(Optional.of(schema).filter(s -> !s.equals(own)), name);
    }

    private String schema(Connection connection, TableName table) throws SQLException {
        return table.schema().isPresent() ? table.schema().get() : ownSchema(connection);
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        String own = ownSchema(connection);
        return Rows.read(
                connection,
                "SELECT owner, table_name FROM all_tables WHERE nested = 'NO' AND secondary = 'N' AND "
                        + NOT_THE_SYSTEM_S
                        + " UNION ALL SELECT owner, view_name FROM all_views WHERE " + NOT_THE_SYSTEM_S
                        + " ORDER BY 1, 2",
                row -> named(own, row.getString(1), row.getString(2)));
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT num_rows, NVL(blocks, 0) * 8192 FROM all_tables"
                                + " WHERE owner = ? AND table_name = ? AND num_rows IS NOT NULL",
                        row -> Estimate.of(row.getLong(1), row.getLong(2)),
                        schema(connection, table),
                        table.name())
                .stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    /** What a user has no right to is not listed; all of it is the user's own. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) throws SQLException {
        boolean all = !Rows.read(
                        connection,
                        "SELECT 1 FROM session_privs WHERE privilege = 'SELECT ANY TABLE'"
                                + " UNION ALL SELECT 1 FROM DUAL WHERE SYS_CONTEXT('USERENV', 'SESSION_USER') ="
                                + " SYS_CONTEXT('USERENV', 'CURRENT_SCHEMA')",
                        row -> 1)
                .isEmpty();
        return all || table.isPresent()
                ? Optional.empty()
                : Optional.of(
                        "the user may not read all of this schema, and Oracle does not show what a user may not read");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String own = ownSchema(connection);
        Asked asked = new Asked(connection, Optional.of(table.name()), Optional.of(schema(connection, table)));
        String what = table.name();
        boolean view = !asked.read(
                        "SELECT view_name, view_name AS of_table FROM all_views WHERE owner = ? AND view_name = :table",
                        row -> row.getString(1))
                .isEmpty();
        List<TableName> triggers = asked.read("""
                        SELECT owner, trigger_name, table_name AS of_table FROM all_triggers
                        WHERE status = 'ENABLED' AND table_owner = ? AND table_name = :table
                        ORDER BY owner, trigger_name
                        """, row -> named(own, row.getString(1), row.getString(2)))
                .getOrDefault(what, List.of());
        List<ForeignKey> foreignKeys =
                ForeignKeys.read(asked, (s, n) -> named(own, s, n), """
                        SELECT k.constraint_name, c.column_name, r.owner, r.table_name, rc.column_name,
                               k.table_name AS of_table
                        FROM all_constraints k
                        JOIN all_cons_columns c ON c.owner = k.owner AND c.constraint_name = k.constraint_name
                        JOIN all_constraints r ON r.owner = k.r_owner AND r.constraint_name = k.r_constraint_name
                        JOIN all_cons_columns rc ON rc.owner = r.owner AND rc.constraint_name = r.constraint_name
                         AND rc.position = c.position
                        WHERE k.constraint_type = 'R' AND k.owner = ? AND k.table_name = :table
                        ORDER BY k.constraint_name, c.position
                        """).getOrDefault(what, List.of());
        List<Reaction> reactions =
                Reactions.read(asked, (s, n) -> named(own, s, n), """
                        SELECT k.owner || '.' || k.constraint_name, k.owner, k.table_name, c.column_name, rc.column_name,
                               k.delete_rule, r.table_name AS of_table
                        FROM all_constraints r
                        JOIN all_constraints k ON k.r_owner = r.owner AND k.r_constraint_name = r.constraint_name
                         AND k.constraint_type = 'R' AND k.delete_rule <> 'NO ACTION'
                        JOIN all_cons_columns c ON c.owner = k.owner AND c.constraint_name = k.constraint_name
                        JOIN all_cons_columns rc ON rc.owner = r.owner AND rc.constraint_name = r.constraint_name
                         AND rc.position = c.position
                        WHERE r.owner = ? AND r.table_name = :table
                        ORDER BY 1, c.position
                        """).getOrDefault(what, List.of());
        return new TableShape(table, view, columns(asked, what), keys(asked, what), foreignKeys, !triggers.isEmpty())
                .with(new SideEffects(List.of(), reactions, true, false).withRunning(triggers));
    }

    private static List<ColumnShape> columns(Asked asked, String table) throws SQLException {
        return asked.read("""
                        SELECT c.column_name, c.data_type, NVL(NULLIF(c.char_length, 0), c.data_length) AS length,
                               NVL(c.data_precision, 0) AS precision, c.data_scale, c.nullable, c.virtual_column,
                               (SELECT i.generation_type FROM all_tab_identity_cols i WHERE i.owner = c.owner
                                AND i.table_name = c.table_name AND i.column_name = c.column_name) AS identity,
                               c.table_name AS of_table
                        FROM all_tab_cols c
                        WHERE c.hidden_column = 'NO' AND c.owner = ? AND c.table_name = :table
                        ORDER BY c.column_id
                        """, OracleCatalogue::column).getOrDefault(table, List.of());
    }

    private static ColumnShape column(ResultSet row) throws SQLException {
        String type = row.getString("data_type").toUpperCase(Locale.ROOT);
        int precision = row.getInt("precision");
        Optional<Integer> scale =
                Optional.ofNullable(row.getString("data_scale")).map(Integer::valueOf);
        String identity = Optional.ofNullable(row.getString("identity")).orElse("");
        return new ColumnShape(
                row.getString("column_name"),
                OracleTypes.declared(type, row.getInt("length"), precision, scale),
                OracleTypes.canonical(type, precision, scale),
                row.getString("nullable").equals("Y"),
                row.getString("virtual_column").equals("YES")
                        ? Generation.COMPUTED
                        : identity.startsWith("ALWAYS")
                                ? Generation.IDENTITY_ALWAYS
                                : identity.isEmpty() ? Generation.NONE : Generation.IDENTITY,
                Optional.empty());
    }

    /** A column of a key that a constraint, or a unique index without one, holds. */
    private record KeyPart(String key, boolean primary, String column) {}

    private static List<KeyShape> keys(Asked asked, String table) throws SQLException {
        List<KeyPart> parts = asked.read(
                        """
                        SELECT name, type, column_name, of_table FROM (
                         SELECT k.constraint_name AS name, k.constraint_type AS type, c.column_name, c.position,
                                k.owner, k.table_name AS of_table
                         FROM all_constraints k
                         JOIN all_cons_columns c ON c.owner = k.owner AND c.constraint_name = k.constraint_name
                         WHERE k.constraint_type IN ('P', 'U') AND k.status = 'ENABLED' AND k.validated = 'VALIDATED'
                         UNION ALL
                         SELECT i.index_name, 'X', c.column_name, c.column_position, i.table_owner, i.table_name
                         FROM all_indexes i
                         JOIN all_ind_columns c ON c.index_owner = i.owner AND c.index_name = i.index_name
                         WHERE i.uniqueness = 'UNIQUE' AND i.index_type IN ('NORMAL', 'NORMAL/REV') AND i.status <> 'UNUSABLE'
                          AND NOT EXISTS (SELECT 1 FROM all_constraints k WHERE k.owner = i.table_owner
                           AND k.table_name = i.table_name AND k.index_name = i.index_name))
                        WHERE owner = ? AND of_table = :table
                        ORDER BY type, name, position
                        """,
                        row -> new KeyPart(row.getString(1), row.getString(2).equals("P"), row.getString(3)))
                .getOrDefault(table, List.of());
        return Grouped.by(parts, KeyPart::key).stream()
                .map(key -> new KeyShape(
                        key.get(0).primary(), key.stream().map(KeyPart::column).toList()))
                .toList();
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            String type = told.getColumnTypeName(i).toUpperCase(Locale.ROOT);
            // The driver tells -127 where neither is declared.
            Optional<Integer> scale = Optional.of(told.getScale(i)).filter(s -> s != -127);
            return QueryColumns.column(
                    told.getColumnLabel(i),
                    OracleTypes.declared(type, told.getPrecision(i), told.getPrecision(i), scale),
                    OracleTypes.canonical(type, told.getPrecision(i), scale),
                    Optional.empty());
        });
    }
}
