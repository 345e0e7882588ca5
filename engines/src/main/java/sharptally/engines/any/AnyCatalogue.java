package sharptally.engines.any;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import sharptally.core.place.Estimate;
import sharptally.core.place.profile.Profile;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.QueryColumns;
import sharptally.engines.jdbc.catalogue.Catalogue;

/** What the driver says of its database. Tables of the connection's own schema go by their bare name. */
final class AnyCatalogue implements Catalogue {
    private static final Set<String> SYSTEM = Set.of(
            "INFORMATION_SCHEMA",
            "SYSTEM_LOBS",
            "SYS",
            "SYSIBM",
            "SYSCAT",
            "SYSFUN",
            "SYSPROC",
            "SYSSTAT",
            "SYSCS_DIAG",
            "SYSCS_UTIL",
            "NULLID",
            "SQLJ",
            "PG_CATALOG");

    private final Profile profile;

    AnyCatalogue(Profile profile) {
        this.profile = profile;
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        if (!profile.profile().isEmpty()) {
            facts.put("profile", profile.profile() + ", " + profile.proof());
        }
        Optional.ofNullable(connection.getMetaData().getUserName()).ifPresent(user -> facts.put("user", user));
        facts.put(
                "driver",
                connection.getMetaData().getDriverName() + " "
                        + connection.getMetaData().getDriverVersion());
        // Asked of a table that is not there: what a driver does not offer it does not offer for any.
        keys(connection, null, "tally_none");
        foreignKeys(connection, null, "tally_none");
        List<String> lacks = Lacks.of(connection);
        if (!lacks.isEmpty()) {
            facts.put("driver lacks", String.join(", ", lacks));
        }
        return facts;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        List<TableName> tables = new ArrayList<>();
        try (ResultSet row =
                connection.getMetaData().getTables(null, null, "%", new String[] {"TABLE", "VIEW", "BASE TABLE"})) {
            while (row.next()) {
                Optional<String> schema =
                        Optional.ofNullable(row.getString("TABLE_SCHEM")).filter(s -> !s.isBlank());
                if (schema.filter(s -> SYSTEM.contains(s.toUpperCase(Locale.ROOT)) || profile.hides(s))
                        .isEmpty()) {
                    tables.add(new TableName(
                            schema.filter(s -> !s.equals(schemaOf(connection))),
                            row.getString("TABLE_NAME").strip()));
                }
            }
        }
        return tables;
    }

    @Override
    public String ownSchema(Connection connection) {
        return schemaOf(connection);
    }

    private static String schemaOf(Connection connection) {
        try {
            return Optional.ofNullable(connection.getSchema()).orElse("");
        } catch (SQLException | AbstractMethodError | UnsupportedOperationException e) {
            return "";
        }
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) {
        return Estimate.UNKNOWN;
    }

    private static String schema(Connection connection, TableName table) {
        return table.schema().orElse(schemaOf(connection));
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        return QueryColumns.of(
                connection,
                query,
                (told, i) -> QueryColumns.column(
                        told.getColumnLabel(i),
                        told.getColumnTypeName(i),
                        AnyTypes.canonical(profile, told.getColumnType(i), told.getColumnTypeName(i), told.getScale(i)),
                        Optional.empty()));
    }

    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.of("what a driver of any kind lists may leave out what its user has no right to see");
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        DatabaseMetaData metadata = connection.getMetaData();
        String schema = schema(connection, table).isEmpty() ? null : schema(connection, table);
        boolean view = false;
        try (ResultSet row =
                metadata.getTables(null, escaped(metadata, schema), escaped(metadata, table.name()), null)) {
            while (row.next()) {
                view = view || "VIEW".equals(row.getString("TABLE_TYPE"));
            }
        }
        List<ColumnShape> columns = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        try (ResultSet row =
                metadata.getColumns(null, escaped(metadata, schema), escaped(metadata, table.name()), "%")) {
            while (row.next()) {
                if (seen.add(row.getString("COLUMN_NAME"))) {
                    columns.add(column(row));
                }
            }
        }
        return new TableShape(
                table,
                view,
                columns,
                keys(connection, schema, table.name()),
                foreignKeys(connection, schema, table.name()),
                false);
    }

    /** A name that stands for itself where the driver takes a pattern. */
    private static @org.jspecify.annotations.Nullable String escaped(
            DatabaseMetaData metadata, @org.jspecify.annotations.Nullable String name) throws SQLException {
        String escape = metadata.getSearchStringEscape();
        return name == null || escape == null || escape.isEmpty()
                ? name
                : name.replace(escape, escape + escape)
                        .replace("_", escape + "_")
                        .replace("%", escape + "%");
    }

    private ColumnShape column(ResultSet row) throws SQLException {
        String name = row.getString("COLUMN_NAME");
        int type = row.getInt("DATA_TYPE");
        String words = row.getString("TYPE_NAME");
        int size = row.getInt("COLUMN_SIZE");
        int digits = row.getInt("DECIMAL_DIGITS");
        boolean nullable = row.getInt("NULLABLE") != DatabaseMetaData.columnNoNulls;
        boolean identity = "YES".equals(row.getString("IS_AUTOINCREMENT"));
        boolean computed = "YES".equals(row.getString("IS_GENERATEDCOLUMN")) && !identity;
        String declared = size > 0 ? words + "(" + size + (digits > 0 ? ", " + digits : "") + ")" : words;
        return new ColumnShape(
                name,
                declared,
                AnyTypes.canonical(profile, type, words, digits),
                nullable,
                computed ? Generation.COMPUTED : identity ? Generation.IDENTITY : Generation.NONE,
                Optional.empty());
    }

    private static List<KeyShape> keys(
            Connection connection, @org.jspecify.annotations.Nullable String schema, String table) throws SQLException {
        DatabaseMetaData metadata = connection.getMetaData();
        List<KeyShape> keys = new ArrayList<>();
        List<String> primary = Lacks.asked(connection, "primary keys", List.<String>of(), () -> {
            Map<Short, String> columns = new TreeMap<>();
            try (ResultSet row = metadata.getPrimaryKeys(null, schema, table)) {
                while (row.next()) {
                    columns.put(row.getShort("KEY_SEQ"), row.getString("COLUMN_NAME"));
                }
            }
            return List.copyOf(columns.values());
        });
        if (!primary.isEmpty()) {
            keys.add(new KeyShape(true, primary));
        }
        Lacks.asked(connection, "indexes", List.<List<String>>of(), () -> uniqueIndexes(metadata, schema, table))
                .stream()
                .map(columns -> new KeyShape(false, columns))
                .filter(key -> keys.stream().noneMatch(k -> k.columns().equals(key.columns())))
                .forEach(keys::add);
        return keys;
    }

    private static List<List<String>> uniqueIndexes(
            DatabaseMetaData metadata, @org.jspecify.annotations.Nullable String schema, String table)
            throws SQLException {
        Map<String, Map<Short, String>> unique = new LinkedHashMap<>();
        try (ResultSet row = metadata.getIndexInfo(null, schema, table, true, true)) {
            while (row.next()) {
                boolean usable = !row.getBoolean("NON_UNIQUE") && row.getString("COLUMN_NAME") != null;
                if (usable && row.getString("FILTER_CONDITION") == null) {
                    unique.computeIfAbsent(row.getString("INDEX_NAME"), n -> new TreeMap<>())
                            .put(row.getShort("ORDINAL_POSITION"), row.getString("COLUMN_NAME"));
                }
            }
        }
        return unique.values().stream()
                .map(columns -> List.copyOf(columns.values()))
                .toList();
    }

    private static List<ForeignKey> foreignKeys(
            Connection connection, @org.jspecify.annotations.Nullable String schema, String table) throws SQLException {
        return Lacks.asked(
                connection, "foreign keys", List.of(), () -> referring(connection.getMetaData(), schema, table));
    }

    private static List<ForeignKey> referring(
            DatabaseMetaData metadata, @org.jspecify.annotations.Nullable String schema, String table)
            throws SQLException {
        Map<String, List<String[]>> parts = new LinkedHashMap<>();
        try (ResultSet row = metadata.getImportedKeys(null, schema, table)) {
            while (row.next()) {
                parts.computeIfAbsent(String.valueOf(row.getString("FK_NAME")), n -> new ArrayList<>())
                        .add(new String[] {
                            row.getString("FKCOLUMN_NAME"),
                            row.getString("PKTABLE_NAME"),
                            row.getString("PKCOLUMN_NAME")
                        });
            }
        }
        return parts.values().stream()
                .map(key -> new ForeignKey(
                        key.stream().map(part -> part[0]).toList(),
                        TableName.of(key.get(0)[1]),
                        key.stream().map(part -> part[2]).toList()))
                .toList();
    }
}
