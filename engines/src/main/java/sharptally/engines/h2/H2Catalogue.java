package sharptally.engines.h2;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
import sharptally.engines.jdbc.catalogue.Asked;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.catalogue.DeclarationQuery;
import sharptally.engines.jdbc.catalogue.ForeignKeys;
import sharptally.engines.jdbc.catalogue.Reactions;

/** Reads H2's information schema. Tables of schema PUBLIC go by their bare name. */
final class H2Catalogue implements Catalogue {
    private static final String DEFAULT_SCHEMA = "PUBLIC";

    @Override
    public List<DeclarationQuery> declarations(Connection connection) {
        return H2Declarations.ALL;
    }

    @Override
    public String ownSchema(Connection connection) {
        return DEFAULT_SCHEMA;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        return Rows.read(connection, """
                SELECT TABLE_SCHEMA, TABLE_NAME
                FROM INFORMATION_SCHEMA.TABLES
                WHERE TABLE_SCHEMA <> 'INFORMATION_SCHEMA'
                ORDER BY TABLE_SCHEMA, TABLE_NAME
                """, row -> name(row.getString(1), row.getString(2)));
    }

    private static TableName name(String schema, String table) {
        return schema.equals(DEFAULT_SCHEMA) ? TableName.of(table) : TableName.of(schema, table);
    }

    @Override
    public Optional<Long> nextNumber(Connection connection, TableName table, String column) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT IDENTITY_BASE FROM INFORMATION_SCHEMA.COLUMNS WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ?"
                                + " AND COLUMN_NAME = ? AND IDENTITY_INCREMENT > 0",
                        row -> row.getLong(1),
                        table.schema().orElse(DEFAULT_SCHEMA),
                        table.name(),
                        column)
                .stream()
                .findFirst();
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        Rows.read(connection, "SELECT CURRENT_USER, CURRENT_CATALOG", row -> {
            facts.put("user", row.getString(1));
            return facts.put("database", row.getString(2));
        });
        facts.put("TLS", "none: a file on this machine");
        facts.put("character set", "Unicode");
        facts.put("time zone", "UTC");
        return facts;
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                        connection,
                        """
                        SELECT ROW_COUNT_ESTIMATE, DISK_SPACE_USED('"' || REPLACE(TABLE_SCHEMA, '"', '""') || '"."'
                               || REPLACE(TABLE_NAME, '"', '""') || '"')
                        FROM INFORMATION_SCHEMA.TABLES
                        WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND TABLE_TYPE = 'BASE TABLE'
                        """,
                        row -> Estimate.of(row.getLong(1), row.getLong(2)),
                        table.schema().orElse(DEFAULT_SCHEMA),
                        table.name())
                .stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(connection, query, (told, i) -> {
            String type = told.getColumnTypeName(i);
            boolean sized = told.getPrecision(i) > 0 && (type.startsWith("CHARACTER") || type.equals("NUMERIC"));
            String declared = !sized
                    ? type
                    : type + "(" + told.getPrecision(i) + (type.equals("NUMERIC") ? ", " + told.getScale(i) : "") + ")";
            return QueryColumns.column(
                    told.getColumnLabel(i),
                    declared,
                    H2Types.canonical(type.startsWith("INTERVAL") ? "INTERVAL" : type, told.getScale(i), declared),
                    Optional.empty());
        });
    }

    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) throws SQLException {
        boolean admin = Rows.read(
                        connection,
                        "SELECT IS_ADMIN FROM INFORMATION_SCHEMA.USERS WHERE USER_NAME = CURRENT_USER",
                        row -> row.getBoolean(1))
                .contains(true);
        return admin ? Optional.empty() : Optional.of("only an administrator sees all tables here");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String[] which = {table.schema().orElse(DEFAULT_SCHEMA), table.name()};
        boolean view = Rows.read(
                        connection,
                        "SELECT TABLE_TYPE FROM INFORMATION_SCHEMA.TABLES WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ?",
                        row -> row.getString(1),
                        which)
                .contains("VIEW");
        boolean triggers =
                !Rows.read(connection, """
                        SELECT TRIGGER_NAME FROM INFORMATION_SCHEMA.TRIGGERS
                        WHERE EVENT_OBJECT_SCHEMA = ? AND EVENT_OBJECT_TABLE = ?
                        """, row -> row.getString(1), which).isEmpty();
        return new TableShape(
                        table,
                        view,
                        columns(connection, which),
                        keys(connection, which),
                        foreignKeys(connection, which),
                        triggers)
                .with(sideEffects(connection, which));
    }

    private static SideEffects sideEffects(Connection connection, String[] which) throws SQLException {
        List<String> setOnUpdate = Rows.read(connection, """
                SELECT COLUMN_NAME FROM INFORMATION_SCHEMA.COLUMNS
                WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? AND COLUMN_ON_UPDATE IS NOT NULL
                ORDER BY ORDINAL_POSITION
                """, row -> row.getString(1), which);
        return new SideEffects(
                setOnUpdate,
                Reactions.read(asked(connection, which), H2Catalogue::name, """
                        SELECT k.TABLE_SCHEMA || '.' || k.TABLE_NAME || '.' || k.CONSTRAINT_NAME, k.TABLE_SCHEMA,
                               k.TABLE_NAME, k.COLUMN_NAME, p.COLUMN_NAME, r.DELETE_RULE, p.TABLE_NAME AS of_table
                        FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS r
                        JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE k
                          ON k.CONSTRAINT_SCHEMA = r.CONSTRAINT_SCHEMA AND k.CONSTRAINT_NAME = r.CONSTRAINT_NAME
                        JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE p
                          ON p.CONSTRAINT_SCHEMA = r.UNIQUE_CONSTRAINT_SCHEMA
                         AND p.CONSTRAINT_NAME = r.UNIQUE_CONSTRAINT_NAME
                         AND p.ORDINAL_POSITION = k.POSITION_IN_UNIQUE_CONSTRAINT
                        WHERE p.TABLE_SCHEMA = ? AND p.TABLE_NAME = :table
                          AND r.DELETE_RULE IN ('CASCADE', 'SET NULL', 'SET DEFAULT')
                        ORDER BY 1, k.ORDINAL_POSITION
                        """).getOrDefault(which[1], List.of()),
                true,
                false);
    }

    private static Asked asked(Connection connection, String[] which) {
        return new Asked(connection, Optional.of(which[1]), Optional.of(which[0]));
    }

    private static List<ColumnShape> columns(Connection connection, String[] which) throws SQLException {
        return Rows.read(connection, """
                SELECT COLUMN_NAME, DATA_TYPE, CHARACTER_MAXIMUM_LENGTH, NUMERIC_PRECISION, NUMERIC_SCALE,
                       DATETIME_PRECISION, INTERVAL_TYPE, GEOMETRY_TYPE, IS_NULLABLE, IDENTITY_GENERATION,
                       IS_GENERATED, COLLATION_NAME
                FROM INFORMATION_SCHEMA.COLUMNS
                WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ?
                ORDER BY ORDINAL_POSITION
                """, H2Catalogue::column, which);
    }

    private static ColumnShape column(ResultSet row) throws SQLException {
        String type = row.getString("DATA_TYPE");
        Generation generation = "ALWAYS".equals(row.getString("IS_GENERATED"))
                ? Generation.COMPUTED
                : "ALWAYS".equals(row.getString("IDENTITY_GENERATION"))
                        ? Generation.IDENTITY_ALWAYS
                        : row.getString("IDENTITY_GENERATION") != null ? Generation.IDENTITY : Generation.NONE;
        boolean caseless = type.equals("VARCHAR_IGNORECASE");
        Optional<String> collation = Optional.ofNullable(row.getString("COLLATION_NAME"))
                .filter(name -> !name.equals("OFF"))
                .or(() -> caseless ? Optional.of("ignoring case") : Optional.empty());
        return new ColumnShape(
                row.getString("COLUMN_NAME"),
                declared(type, row),
                H2Types.canonical(type, row.getInt("DATETIME_PRECISION"), declared(type, row)),
                row.getString("IS_NULLABLE").equals("YES"),
                generation,
                collation);
    }

    private static String declared(String type, ResultSet row) throws SQLException {
        switch (type) {
            case "NUMERIC":
                return type + "(" + row.getInt("NUMERIC_PRECISION") + ", " + row.getInt("NUMERIC_SCALE") + ")";
            case "CHARACTER", "CHARACTER VARYING", "VARCHAR_IGNORECASE", "BINARY", "BINARY VARYING":
                return type + "(" + row.getLong("CHARACTER_MAXIMUM_LENGTH") + ")";
            case "TIME", "TIMESTAMP":
                return type + "(" + row.getInt("DATETIME_PRECISION") + ")";
            case "TIMESTAMP WITH TIME ZONE", "TIME WITH TIME ZONE":
                return type.replace(" WITH", "(" + row.getInt("DATETIME_PRECISION") + ") WITH");
            case "INTERVAL":
                return type + " " + row.getString("INTERVAL_TYPE");
            default:
                return type;
        }
    }

    private static List<KeyShape> keys(Connection connection, String[] which) throws SQLException {
        Map<String, List<String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> primary = new LinkedHashMap<>();
        Rows.read(
                connection,
                """
                SELECT i.INDEX_NAME, i.INDEX_TYPE_NAME, c.COLUMN_NAME
                FROM INFORMATION_SCHEMA.INDEXES i
                JOIN INFORMATION_SCHEMA.INDEX_COLUMNS c
                  ON c.INDEX_SCHEMA = i.INDEX_SCHEMA AND c.INDEX_NAME = i.INDEX_NAME AND c.IS_UNIQUE
                WHERE i.TABLE_SCHEMA = ? AND i.TABLE_NAME = ?
                  AND i.INDEX_TYPE_NAME IN ('PRIMARY KEY', 'UNIQUE INDEX')
                ORDER BY CASE i.INDEX_TYPE_NAME WHEN 'PRIMARY KEY' THEN 0 ELSE 1 END, i.INDEX_NAME, c.ORDINAL_POSITION
                """,
                row -> {
                    primary.put(row.getString(1), row.getString(2).equals("PRIMARY KEY"));
                    return columns.computeIfAbsent(row.getString(1), n -> new ArrayList<>())
                            .add(row.getString(3));
                },
                which);
        return columns.entrySet().stream()
                .map(index -> new KeyShape(primary.get(index.getKey()), index.getValue()))
                .toList();
    }

    private static List<ForeignKey> foreignKeys(Connection connection, String[] which) throws SQLException {
        return ForeignKeys.read(asked(connection, which), H2Catalogue::name, """
                SELECT k.CONSTRAINT_NAME, k.COLUMN_NAME, p.TABLE_SCHEMA, p.TABLE_NAME, p.COLUMN_NAME,
                       k.TABLE_NAME AS of_table
                FROM INFORMATION_SCHEMA.REFERENTIAL_CONSTRAINTS r
                JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE k
                  ON k.CONSTRAINT_SCHEMA = r.CONSTRAINT_SCHEMA AND k.CONSTRAINT_NAME = r.CONSTRAINT_NAME
                JOIN INFORMATION_SCHEMA.KEY_COLUMN_USAGE p
                  ON p.CONSTRAINT_SCHEMA = r.UNIQUE_CONSTRAINT_SCHEMA
                 AND p.CONSTRAINT_NAME = r.UNIQUE_CONSTRAINT_NAME
                 AND p.ORDINAL_POSITION = k.POSITION_IN_UNIQUE_CONSTRAINT
                WHERE k.TABLE_SCHEMA = ? AND k.TABLE_NAME = :table
                ORDER BY k.CONSTRAINT_NAME, k.ORDINAL_POSITION
                """)
                .getOrDefault(which[1], List.of());
    }
}
