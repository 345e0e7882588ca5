package sharptally.engines.mariadb;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.catalogue.ForeignKeys;
import sharptally.engines.jdbc.catalogue.Reactions;

/** Reads the information schema. Tables of the connection's own database go by their bare name. */
final class MariaCatalogue implements Catalogue {
    @Override
    public String ownSchema(Connection connection) throws SQLException {
        return Rows.read(connection, "SELECT database()", row -> row.getString(1))
                .get(0);
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        Rows.read(
                connection,
                "SELECT current_user(), database(), @@character_set_database, @@collation_database, @@system_time_zone",
                row -> {
                    facts.put("user", row.getString(1));
                    facts.put("database", row.getString(2));
                    facts.put("character set", row.getString(3) + ", " + row.getString(4));
                    return facts.put("time zone", row.getString(5));
                });
        Rows.read(connection, "SHOW SESSION STATUS LIKE 'Ssl_version'", row -> {
            String version = row.getString(2);
            return facts.put("TLS", version.isEmpty() ? "no" : version);
        });
        return facts;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        return Rows.read(connection, """
                SELECT table_name FROM information_schema.tables
                WHERE table_schema = database() AND table_type IN ('BASE TABLE', 'VIEW', 'SYSTEM VERSIONED')
                ORDER BY BINARY table_name
                """, row -> TableName.of(row.getString(1)));
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(connection, """
                        SELECT table_rows, data_length + index_length FROM information_schema.tables
                        WHERE table_schema = database() AND table_name = ? AND table_rows IS NOT NULL
                        """, row -> Estimate.of(row.getLong(1), row.getLong(2)), table.name()).stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            String words = told.getColumnTypeName(i).toLowerCase(Locale.ROOT).replace("integer", "int");
            String type = words.replace(" unsigned", "");
            String declared = type.equals("bit") ? "bit(" + told.getPrecision(i) + ")" : words;
            return QueryColumns.column(
                    told.getColumnLabel(i),
                    declared,
                    MariaTypes.canonical(type, declared, told.getScale(i), false),
                    // Of what comes out of an expression the character set is not told.
                    type.contains("char") || type.contains("text") ? Optional.of("unknown") : Optional.empty());
        });
    }

    /** What the user has no right to does not stand in the information schema. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) throws SQLException {
        String who = """
                (grantee = concat(quote(substring_index(current_user(), '@', 1)), '@',
                                  quote(substring_index(current_user(), '@', -1)))
                 OR grantee LIKE concat(quote(current_role()), '@%'))
                """;
        boolean all = !Rows.read(
                        connection,
                        "SELECT 1 FROM information_schema.user_privileges WHERE privilege_type = 'SELECT' AND " + who
                                + " UNION ALL SELECT 1 FROM information_schema.schema_privileges"
                                + " WHERE privilege_type = 'SELECT' AND database() LIKE table_schema AND " + who,
                        row -> 1)
                .isEmpty();
        boolean whole = all
                || table.isPresent()
                        && !Rows.read(
                                        connection,
                                        "SELECT 1 FROM information_schema.table_privileges"
                                                + " WHERE privilege_type = 'SELECT' AND table_schema = database()"
                                                + " AND table_name = ? AND " + who,
                                        row -> 1,
                                        table.get().name())
                                .isEmpty();
        // Where the server keeps no rights, nobody has any, and all is shown.
        boolean keepsNone = !whole
                && Rows.read(connection, "SELECT 1 FROM information_schema.user_privileges LIMIT 1", row -> 1)
                        .isEmpty();
        return whole || keepsNone
                ? Optional.empty()
                : Optional.of("the user may not read all of "
                        + table.map(TableName::name).orElse("this database")
                        + ", and MariaDB does not show what a user may not read");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String name = table.name();
        boolean view = Rows.read(connection, """
                        SELECT table_type FROM information_schema.tables
                        WHERE table_schema = database() AND table_name = ?
                        """, row -> row.getString(1), name).contains("VIEW");
        boolean triggers =
                !Rows.read(connection, """
                        SELECT trigger_name FROM information_schema.triggers
                        WHERE event_object_schema = database() AND event_object_table = ?
                        """, row -> row.getString(1), name).isEmpty();
        return new TableShape(
                        table,
                        view,
                        columns(connection, name),
                        keys(connection, name),
                        foreignKeys(connection, name),
                        triggers)
                .with(sideEffects(connection, name));
    }

    private static SideEffects sideEffects(Connection connection, String table) throws SQLException {
        List<String> setOnUpdate = Rows.read(connection, """
                SELECT column_name FROM information_schema.columns
                WHERE table_schema = database() AND table_name = ? AND lower(extra) LIKE '%on update %'
                ORDER BY ordinal_position
                """, row -> row.getString(1), table);
        boolean transactional = !Rows.read(connection, """
                        SELECT e.transactions FROM information_schema.tables t
                        JOIN information_schema.engines e ON e.engine = t.engine
                        WHERE t.table_schema = database() AND t.table_name = ?
                        """, row -> String.valueOf(row.getString(1)), table)
                .contains("NO");
        return new SideEffects(
                setOnUpdate,
                Reactions.read(connection, (schema, name) -> TableName.of(name), """
                        SELECT concat(k.table_name, '.', r.constraint_name), '', k.table_name, k.column_name,
                               k.referenced_column_name, r.delete_rule
                        FROM information_schema.referential_constraints r
                        JOIN information_schema.key_column_usage k
                          ON k.constraint_schema = r.constraint_schema AND k.constraint_name = r.constraint_name
                         AND k.table_name = r.table_name
                        WHERE r.constraint_schema = database() AND r.referenced_table_name = ?
                          AND r.delete_rule IN ('CASCADE', 'SET NULL', 'SET DEFAULT')
                        ORDER BY 1, k.ordinal_position
                        """, table),
                transactional,
                false);
    }

    private static List<ColumnShape> columns(Connection connection, String table) throws SQLException {
        Set<String> json = jsonColumns(connection, table);
        return Rows.read(connection, """
                SELECT column_name, data_type, column_type, datetime_precision, is_nullable, extra, collation_name,
                       coalesce(generation_expression, '') AS expression
                FROM information_schema.columns
                WHERE table_schema = database() AND table_name = ?
                ORDER BY ordinal_position
                """, row -> column(row, json), table);
    }

    /** In MariaDB, JSON is a word for text with a check; only the check tells. */
    private static Set<String> jsonColumns(Connection connection, String table) throws SQLException {
        if (!connection.getMetaData().getDatabaseProductName().contains("MariaDB")) {
            return Set.of();
        }
        return Set.copyOf(Rows.read(connection, """
                SELECT replace(substring(check_clause, 13, char_length(check_clause) - 14), '``', '`')
                FROM information_schema.check_constraints
                WHERE constraint_schema = database() AND table_name = ? AND check_clause LIKE 'json_valid(`%`)'
                """, row -> row.getString(1), table));
    }

    private static ColumnShape column(ResultSet row, Set<String> json) throws SQLException {
        String extra = row.getString("extra").toUpperCase(Locale.ROOT);
        boolean computed = !row.getString("expression").isEmpty() || extra.contains("GENERATED ALWAYS AS ROW");
        String collation = row.getString("collation_name");
        String name = row.getString("column_name");
        return new ColumnShape(
                name,
                row.getString("column_type"),
                MariaTypes.canonical(
                        row.getString("data_type").toLowerCase(Locale.ROOT),
                        row.getString("column_type").toLowerCase(Locale.ROOT),
                        row.getInt("datetime_precision"),
                        json.contains(name)),
                row.getString("is_nullable").equals("YES"),
                computed
                        ? Generation.COMPUTED
                        : extra.contains("AUTO_INCREMENT") ? Generation.IDENTITY : Generation.NONE,
                Optional.ofNullable(collation));
    }

    private static List<KeyShape> keys(Connection connection, String table) throws SQLException {
        Map<String, List<String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> usable = new LinkedHashMap<>();
        Rows.read(
                connection,
                """
                SELECT index_name, coalesce(column_name, ''), sub_part
                FROM information_schema.statistics
                WHERE table_schema = database() AND table_name = ? AND non_unique = 0
                ORDER BY CASE index_name WHEN 'PRIMARY' THEN 0 ELSE 1 END, index_name, seq_in_index
                """,
                row -> {
                    // An index over the first letters or an expression does not tell rows apart by their columns.
                    boolean whole =
                            row.getString(3) == null && !row.getString(2).isEmpty();
                    usable.merge(row.getString(1), whole, Boolean::logicalAnd);
                    return columns.computeIfAbsent(row.getString(1), n -> new ArrayList<>())
                            .add(row.getString(2));
                },
                table);
        return columns.entrySet().stream()
                .filter(index -> usable.get(index.getKey()))
                .map(index -> new KeyShape(index.getKey().equals("PRIMARY"), index.getValue()))
                .toList();
    }

    private static List<ForeignKey> foreignKeys(Connection connection, String table) throws SQLException {
        return ForeignKeys.read(connection, (schema, name) -> TableName.of(name), """
                SELECT constraint_name, column_name, '', referenced_table_name, referenced_column_name
                FROM information_schema.key_column_usage
                WHERE table_schema = database() AND table_name = ? AND referenced_table_name IS NOT NULL
                ORDER BY constraint_name, ordinal_position
                """, table);
    }
}
