package sharptally.engines.mariadb;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.SideEffects.Reaction;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Asked;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;
import sharptally.engines.jdbc.catalogue.ForeignKeys;
import sharptally.engines.jdbc.catalogue.Grouped;
import sharptally.engines.jdbc.catalogue.Reactions;

/** Reads the information schema. Tables of the connection's own database go by their bare name. */
final class MariaCatalogue implements Catalogue {
    @Override
    public Optional<Partitioning> partitioning(Connection connection, TableName table) throws SQLException {
        return MariaPartitions.of(connection, table.schema().orElse(ownSchema(connection)), table);
    }

    @Override
    public List<DeclarationQuery> declarations(Connection connection) throws SQLException {
        boolean maria = Rows.read(connection, "SELECT version()", row -> row.getString(1))
                .get(0)
                .contains("MariaDB");
        return maria
                ? Stream.concat(MariaDeclarations.ALL.stream(), Stream.of(MariaDeclarations.CHECK))
                        .toList()
                : MariaDeclarations.ALL;
    }

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
                "SELECT current_user(), database(), @@character_set_database, @@collation_database, @@system_time_zone, CONNECTION_ID()",
                row -> {
                    facts.put("user", row.getString(1));
                    facts.put("database", row.getString(2));
                    facts.put("character set", row.getString(3) + ", " + row.getString(4));
                    facts.put("time zone", row.getString(5));
                    if (MariaConnector.isPooled(connection, row.getLong(6))) {
                        facts.put("sessions", "of a pooler or proxy, which keeps what we set as far as was seen");
                    }
                    return facts;
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
        MariaServer server = MariaServer.of(connection);
        String who = """
                (grantee = concat(quote(substring_index(current_user(), '@', 1)), '@',
                                  quote(substring_index(current_user(), '@', -1)))
                """
                + (!server.hasRoles()
                        ? ")"
                        : server.mariaDb()
                                ? " OR grantee LIKE concat(quote(current_role()), '@%'))"
                                : " OR find_in_set(replace(grantee, '\\'', '`'), current_role()))");
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
                        + ", and " + server.product() + " does not show what a user may not read");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        return described(new Asked(connection, Optional.of(table.name()), Optional.empty()), List.of(table.name()))
                .get(TableName.of(table.name()));
    }

    @Override
    public Map<TableName, TableShape> describeAll(Connection connection, TableName one) throws SQLException {
        List<String> tables = Rows.read(
                connection,
                "SELECT table_name FROM information_schema.tables WHERE table_schema = database()",
                row -> row.getString(1));
        return described(new Asked(connection, Optional.empty(), Optional.empty()), tables);
    }

    private static Map<TableName, TableShape> described(Asked asked, List<String> tables) throws SQLException {
        Map<String, List<String>> kinds = asked.read("""
                SELECT table_type, table_name AS of_table FROM information_schema.tables
                WHERE table_schema = database() AND table_name = :table
                """, row -> row.getString(1));
        Map<String, List<String>> triggers = asked.read("""
                SELECT trigger_name, event_object_table AS of_table FROM information_schema.triggers
                WHERE event_object_schema = database() AND event_object_table = :table
                """, row -> row.getString(1));
        Map<String, List<ColumnShape>> columns = columns(asked);
        Map<String, List<KeyPart>> keys = keys(asked);
        Map<String, List<ForeignKey>> foreignKeys = foreignKeys(asked);
        Map<String, List<String>> setOnUpdate = asked.read("""
                SELECT column_name, table_name AS of_table FROM information_schema.columns
                WHERE table_schema = database() AND table_name = :table AND lower(extra) LIKE '%on update %'
                ORDER BY table_name, ordinal_position
                """, row -> row.getString(1));
        Map<String, List<String>> transactional = asked.read("""
                SELECT e.transactions, t.table_name AS of_table FROM information_schema.tables t
                JOIN information_schema.engines e ON e.engine = t.engine
                WHERE t.table_schema = database() AND t.table_name = :table
                """, row -> String.valueOf(row.getString(1)));
        Map<String, List<Reaction>> reactions = reactions(asked);
        Map<TableName, TableShape> shapes = new LinkedHashMap<>();
        for (String table : tables) {
            TableShape shape = new TableShape(
                            TableName.of(table),
                            kinds.getOrDefault(table, List.of()).contains("VIEW"),
                            columns.getOrDefault(table, List.of()),
                            keysOf(keys.getOrDefault(table, List.of())),
                            foreignKeys.getOrDefault(table, List.of()),
                            triggers.containsKey(table))
                    .with(new SideEffects(
                            setOnUpdate.getOrDefault(table, List.of()),
                            reactions.getOrDefault(table, List.of()),
                            !transactional.getOrDefault(table, List.of()).contains("NO"),
                            false));
            shapes.put(shape.name(), shape);
        }
        return shapes;
    }

    private static Map<String, List<Reaction>> reactions(Asked asked) throws SQLException {
        return Reactions.read(asked, (schema, name) -> TableName.of(name), """
                SELECT concat(k.table_name, '.', r.constraint_name), '', k.table_name, k.column_name,
                       k.referenced_column_name, r.delete_rule, r.referenced_table_name AS of_table
                FROM information_schema.referential_constraints r
                JOIN information_schema.key_column_usage k
                  ON k.constraint_schema = r.constraint_schema AND k.constraint_name = r.constraint_name
                 AND k.table_name = r.table_name
                WHERE r.constraint_schema = database() AND r.referenced_table_name = :table
                  AND r.delete_rule IN ('CASCADE', 'SET NULL', 'SET DEFAULT')
                ORDER BY 1, k.ordinal_position
                """);
    }

    private static Map<String, List<ColumnShape>> columns(Asked asked) throws SQLException {
        Map<String, List<String>> json = jsonColumns(asked);
        String expression =
                MariaServer.of(asked.connection()).generatesColumns() ? "coalesce(generation_expression, '')" : "''";
        return asked.read(
                """
                SELECT column_name, data_type, column_type, datetime_precision, is_nullable, extra, collation_name,
                       <expression> AS expression, table_name AS of_table
                FROM information_schema.columns
                WHERE table_schema = database() AND table_name = :table
                ORDER BY table_name, ordinal_position
                """.replace("<expression>", expression),
                row -> column(row, json.getOrDefault(row.getString(Asked.COLUMN), List.of())));
    }

    /** In MariaDB, JSON is a word for text with a check; only the check tells. */
    private static Map<String, List<String>> jsonColumns(Asked asked) throws SQLException {
        if (!MariaServer.of(asked.connection()).mariaDb()) {
            return Map.of();
        }
        return asked.read("""
                SELECT replace(substring(check_clause, 13, char_length(check_clause) - 14), '``', '`'),
                       table_name AS of_table
                FROM information_schema.check_constraints
                WHERE constraint_schema = database() AND table_name = :table AND check_clause LIKE 'json_valid(`%`)'
                """, row -> row.getString(1));
    }

    private static ColumnShape column(ResultSet row, List<String> json) throws SQLException {
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

    /** A column of a unique index; of no use where it is the first letters of one, or an expression. */
    private record KeyPart(String index, String column, boolean whole) {}

    private static Map<String, List<KeyPart>> keys(Asked asked) throws SQLException {
        return asked.read(
                """
                SELECT index_name, coalesce(column_name, ''), sub_part, table_name AS of_table
                FROM information_schema.statistics
                WHERE table_schema = database() AND table_name = :table AND non_unique = 0
                ORDER BY table_name, CASE index_name WHEN 'PRIMARY' THEN 0 ELSE 1 END, index_name, seq_in_index
                """,
                row -> new KeyPart(
                        row.getString(1),
                        row.getString(2),
                        row.getString(3) == null && !row.getString(2).isEmpty()));
    }

    private static List<KeyShape> keysOf(List<KeyPart> parts) {
        return Grouped.by(parts, KeyPart::index).stream()
                .filter(key -> key.stream().allMatch(KeyPart::whole))
                .map(key -> new KeyShape(
                        key.get(0).index().equals("PRIMARY"),
                        key.stream().map(KeyPart::column).toList()))
                .toList();
    }

    private static Map<String, List<ForeignKey>> foreignKeys(Asked asked) throws SQLException {
        return ForeignKeys.read(asked, (schema, name) -> TableName.of(name), """
                SELECT constraint_name, column_name, '', referenced_table_name, referenced_column_name,
                       table_name AS of_table
                FROM information_schema.key_column_usage
                WHERE table_schema = database() AND table_name = :table AND referenced_table_name IS NOT NULL
                ORDER BY table_name, constraint_name, ordinal_position
                """);
    }
}
