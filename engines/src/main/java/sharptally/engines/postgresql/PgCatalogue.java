package sharptally.engines.postgresql;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
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

/** Reads PostgreSQL's own catalogue. Tables of schema public go by their bare name. */
final class PgCatalogue implements Catalogue {
    static final String DEFAULT_SCHEMA = "public";

    @Override
    public String ownSchema(Connection connection) {
        return DEFAULT_SCHEMA;
    }

    @Override
    public Map<String, String> facts(Connection connection) throws SQLException {
        Map<String, String> facts = new LinkedHashMap<>();
        Rows.read(connection, """
                SELECT current_user, current_database(),
                       coalesce((SELECT version FROM pg_stat_ssl WHERE pid = pg_backend_pid() AND ssl), 'no'),
                       pg_encoding_to_char(encoding) || ', ' || datcollate,
                       (SELECT reset_val FROM pg_settings WHERE name = 'TimeZone')
                FROM pg_database WHERE datname = current_database()
                """, row -> {
            facts.put("user", row.getString(1));
            facts.put("database", row.getString(2));
            facts.put("TLS", row.getString(3));
            facts.put("character set", row.getString(4));
            return facts.put("time zone", row.getString(5));
        });
        return facts;
    }

    @Override
    public List<TableName> tables(Connection connection) throws SQLException {
        return Rows.read(connection, """
                SELECT n.nspname, c.relname
                FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
                WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND NOT c.relispartition AND c.relpersistence <> 't'
                  AND n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg\\_toast%'
                ORDER BY n.nspname, c.relname
                """, row -> name(row.getString(1), row.getString(2)));
    }

    private static TableName name(String schema, String table) {
        return schema.equals(DEFAULT_SCHEMA) ? TableName.of(table) : TableName.of(schema, table);
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        return Rows.read(
                        connection,
                        """
                        SELECT c.reltuples::bigint, pg_total_relation_size(c.oid)
                        FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
                        WHERE n.nspname = ? AND c.relname = ? AND c.relkind IN ('r', 'm')
                        """, // Before the first ANALYZE the count is -1.
                        row -> row.getLong(1) < 0
                                ? new Estimate(OptionalLong.empty(), OptionalLong.of(row.getLong(2)))
                                : Estimate.of(row.getLong(1), row.getLong(2)),
                        which(table))
                .stream()
                .findFirst()
                .orElse(Estimate.UNKNOWN);
    }

    private static String[] which(TableName table) {
        return new String[] {table.schema().orElse(DEFAULT_SCHEMA), table.name()};
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        List<String[]> told = new ArrayList<>();
        QueryColumns.of(connection, query, (metadata, i) -> {
            told.add(new String[] {
                metadata.getColumnLabel(i), metadata.getColumnTypeName(i), Integer.toString(metadata.getScale(i))
            });
            return QueryColumns.column(metadata.getColumnLabel(i), "", Optional.empty(), Optional.empty());
        });
        List<ColumnShape> columns = new ArrayList<>();
        for (String[] column : told) {
            columns.add(Rows.read(
                            connection,
                            "SELECT typname, typtype, format_type(oid, -1) FROM pg_type WHERE oid = to_regtype(?)",
                            row -> queryColumn(column, row),
                            column[1])
                    .get(0));
        }
        return columns;
    }

    private static ColumnShape queryColumn(String[] told, ResultSet row) throws SQLException {
        String type = row.getString(1);
        boolean time = type.startsWith("time");
        String declared = type.equals("bpchar") ? "character" : row.getString(3);
        return QueryColumns.column(
                told[0],
                declared,
                Optional.of(PgTypes.canonical(
                        type, row.getString(2).equals("e"), time ? Integer.parseInt(told[2]) : -1, declared)),
                Optional.empty());
    }

    /** The catalogue shows all that is there, whoever asks. */
    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        String[] which = which(table);
        boolean view = Rows.read(connection, """
                        SELECT c.relkind FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
                        WHERE n.nspname = ? AND c.relname = ?
                        """, row -> row.getString(1), which).stream()
                .anyMatch(kind -> kind.equals("v") || kind.equals("m"));
        boolean triggers =
                !Rows.read(connection, """
                        SELECT t.tgname FROM pg_trigger t
                        JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace
                        WHERE n.nspname = ? AND c.relname = ? AND NOT t.tgisinternal
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
        boolean inherited =
                !Rows.read(connection, """
                        SELECT i.inhrelid::text FROM pg_inherits i
                        JOIN pg_class c ON c.oid = i.inhparent JOIN pg_namespace n ON n.oid = c.relnamespace
                        WHERE n.nspname = ? AND c.relname = ? AND c.relkind <> 'p'
                        """, row -> row.getString(1), which).isEmpty();
        return new SideEffects(List.of(), Reactions.read(connection, PgCatalogue::name, """
                        SELECT f.oid::text, n.nspname, c.relname, a.attname, pa.attname,
                               CASE f.confdeltype WHEN 'c' THEN 'CASCADE' ELSE 'SET' END
                        FROM pg_constraint f
                        JOIN pg_class c ON c.oid = f.conrelid
                        JOIN pg_namespace n ON n.oid = c.relnamespace
                        JOIN pg_class p ON p.oid = f.confrelid
                        JOIN pg_namespace pn ON pn.oid = p.relnamespace
                        CROSS JOIN LATERAL unnest(f.conkey, f.confkey) WITH ORDINALITY AS k (own, parent, place)
                        JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.own
                        JOIN pg_attribute pa ON pa.attrelid = p.oid AND pa.attnum = k.parent
                        WHERE pn.nspname = ? AND p.relname = ? AND f.contype = 'f' AND f.confdeltype IN ('c', 'n', 'd')
                          AND f.conparentid = 0
                        ORDER BY f.oid, k.place
                        """, which), true, inherited);
    }

    private static List<ColumnShape> columns(Connection connection, String[] which) throws SQLException {
        return Rows.read(connection, """
                WITH RECURSIVE base (id, base, typmod) AS (
                  SELECT oid, oid, -1 FROM pg_type WHERE typtype <> 'd'
                  UNION ALL
                  SELECT t.oid, b.base, CASE WHEN t.typtypmod >= 0 THEN t.typtypmod ELSE b.typmod END
                  FROM pg_type t JOIN base b ON b.id = t.typbasetype WHERE t.typtype = 'd')
                SELECT a.attname, format_type(a.atttypid, a.atttypmod) AS declared, t.typname, t.typtype,
                       CASE WHEN a.atttypmod >= 0 THEN a.atttypmod ELSE b.typmod END AS typmod,
                       a.attnotnull, a.attidentity, a.attgenerated,
                       coalesce(pg_get_expr(d.adbin, d.adrelid), '') AS default_value,
                       l.collname, l.collisdeterministic
                FROM pg_attribute a
                JOIN pg_class c ON c.oid = a.attrelid
                JOIN pg_namespace n ON n.oid = c.relnamespace
                JOIN base b ON b.id = a.atttypid
                JOIN pg_type t ON t.oid = b.base
                LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum
                LEFT JOIN pg_collation l ON l.oid = a.attcollation
                WHERE n.nspname = ? AND c.relname = ? AND a.attnum > 0 AND NOT a.attisdropped
                ORDER BY a.attnum
                """, PgCatalogue::column, which);
    }

    private static ColumnShape column(ResultSet row) throws SQLException {
        String type = row.getString("typname");
        boolean loose =
                type.equals("citext") || row.getString("collname") != null && !row.getBoolean("collisdeterministic");
        Generation generation = !row.getString("attgenerated").isEmpty()
                ? Generation.COMPUTED
                : row.getString("attidentity").equals("a")
                        ? Generation.IDENTITY_ALWAYS
                        : row.getString("attidentity").equals("d")
                                        || row.getString("default_value").startsWith("nextval(")
                                ? Generation.IDENTITY
                                : Generation.NONE;
        return new ColumnShape(
                row.getString("attname"),
                row.getString("declared"),
                Optional.of(PgTypes.canonical(
                        type, row.getString("typtype").equals("e"), row.getInt("typmod"), row.getString("declared"))),
                !row.getBoolean("attnotnull"),
                generation,
                // Of collations only those that hold different texts equal matter; others only order them.
                loose ? Optional.of(type.equals("citext") ? type : row.getString("collname")) : Optional.empty());
    }

    private static List<KeyShape> keys(Connection connection, String[] which) throws SQLException {
        Map<String, List<String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> primary = new LinkedHashMap<>();
        Rows.read(
                connection,
                """
                SELECT i.indexrelid::text, i.indisprimary, a.attname
                FROM pg_index i
                JOIN pg_class c ON c.oid = i.indrelid
                JOIN pg_namespace n ON n.oid = c.relnamespace
                CROSS JOIN LATERAL unnest(i.indkey::int2[]) WITH ORDINALITY AS k (attnum, place)
                JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.attnum
                WHERE n.nspname = ? AND c.relname = ? AND i.indisunique AND i.indisvalid AND i.indpred IS NULL
                  AND i.indexprs IS NULL AND k.place <= i.indnkeyatts
                ORDER BY i.indisprimary DESC, i.indexrelid, k.place
                """,
                row -> {
                    primary.put(row.getString(1), row.getBoolean(2));
                    return columns.computeIfAbsent(row.getString(1), n -> new ArrayList<>())
                            .add(row.getString(3));
                },
                which);
        return columns.entrySet().stream()
                .map(index -> new KeyShape(primary.get(index.getKey()), index.getValue()))
                .toList();
    }

    private static List<ForeignKey> foreignKeys(Connection connection, String[] which) throws SQLException {
        return ForeignKeys.read(connection, PgCatalogue::name, """
                SELECT f.oid::text, a.attname, pn.nspname, p.relname, pa.attname
                FROM pg_constraint f
                JOIN pg_class c ON c.oid = f.conrelid
                JOIN pg_namespace n ON n.oid = c.relnamespace
                JOIN pg_class p ON p.oid = f.confrelid
                JOIN pg_namespace pn ON pn.oid = p.relnamespace
                CROSS JOIN LATERAL unnest(f.conkey, f.confkey) WITH ORDINALITY AS k (own, parent, place)
                JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.own
                JOIN pg_attribute pa ON pa.attrelid = p.oid AND pa.attnum = k.parent
                WHERE n.nspname = ? AND c.relname = ? AND f.contype = 'f'
                ORDER BY f.oid, k.place
                """, which);
    }
}
