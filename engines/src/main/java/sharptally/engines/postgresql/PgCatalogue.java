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

/** Reads PostgreSQL's own catalogue. Tables of schema public go by their bare name. */
final class PgCatalogue implements Catalogue {
    static final String DEFAULT_SCHEMA = "public";

    /** The columns of foreign keys: c refers by a to pa of p. */
    private static final String REFERENCES = """
            FROM pg_constraint f
            JOIN pg_class c ON c.oid = f.conrelid
            JOIN pg_namespace n ON n.oid = c.relnamespace
            JOIN pg_class p ON p.oid = f.confrelid
            JOIN pg_namespace pn ON pn.oid = p.relnamespace
            CROSS JOIN LATERAL unnest(f.conkey, f.confkey) WITH ORDINALITY AS k (own, parent, place)
            JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.own
            JOIN pg_attribute pa ON pa.attrelid = p.oid AND pa.attnum = k.parent
            """;

    @Override
    public Optional<Partitioning> partitioning(Connection connection, TableName table) throws SQLException {
        return PgPartitions.of(connection, table.schema().orElse(ownSchema(connection)), table);
    }

    @Override
    public List<DeclarationQuery> declarations(Connection connection) {
        return PgDeclarations.ALL;
    }

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
                       (SELECT reset_val FROM pg_settings WHERE name = 'TimeZone'), pg_backend_pid()
                FROM pg_database WHERE datname = current_database()
                """, row -> {
            facts.put("user", row.getString(1));
            facts.put("database", row.getString(2));
            facts.put("TLS", row.getString(3));
            facts.put("character set", row.getString(4));
            facts.put("time zone", row.getString(5));
            if (PooledSession.isPooled(connection, row.getInt(6))) {
                facts.put("TLS", row.getString(3) + ", between pooler and server");
                facts.put("sessions", "of a pooler: what we set is set for each transaction, and ends with it");
            }
            return facts;
        });
        return facts;
    }

    @Override
    public Optional<Long> nextNumber(Connection connection, TableName table, String column) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT CASE WHEN has_sequence_privilege(s, 'SELECT, USAGE') THEN coalesce((pg_sequence_last_value(s)"
                                + " + seqincrement)::text, seqstart::text) END"
                                + " FROM (SELECT pg_get_serial_sequence(?, ?)::regclass AS s) own JOIN pg_sequence ON seqrelid = s"
                                + " WHERE s IS NOT NULL AND seqincrement > 0",
                        row -> Optional.ofNullable(row.getString(1)).map(Long::parseLong),
                        new PgDialect().quote(table),
                        column)
                .stream()
                .flatMap(Optional::stream)
                .findFirst();
    }

    /** The database cluster and a place in its log; a copy that passes on what it replays tells how far it has come. */
    @Override
    public Optional<String> writtenTo(Connection connection) throws SQLException {
        if (!mayAskForCluster(connection)) {
            return Optional.empty();
        }
        return Rows.read(
                        connection,
                        "SELECT (SELECT system_identifier FROM pg_control_system()) || ' ' || CASE WHEN pg_is_in_recovery()"
                                + " THEN pg_last_wal_replay_lsn() ELSE pg_current_wal_lsn() END",
                        row -> Optional.ofNullable(row.getString(1)))
                .get(0);
    }

    @Override
    public Optional<Boolean> hasReplayed(Connection connection, String position) throws SQLException {
        String[] parts = position.split(" ");
        if (!mayAskForCluster(connection) || parts.length != 2) {
            return Optional.empty();
        }
        return Rows.read(
                        connection,
                        "SELECT CASE WHEN pg_is_in_recovery() AND (SELECT system_identifier FROM pg_control_system())::text = ?"
                                + " THEN coalesce(pg_last_wal_replay_lsn() >= ?::pg_lsn, false) END",
                        row -> {
                            boolean replayed = row.getBoolean(1);
                            return row.wasNull() ? Optional.<Boolean>empty() : Optional.of(replayed);
                        },
                        parts)
                .get(0);
    }

    private static boolean mayAskForCluster(Connection connection) throws SQLException {
        return Rows.read(
                        connection,
                        "SELECT has_function_privilege('pg_control_system()', 'EXECUTE')",
                        row -> row.getBoolean(1))
                .get(0);
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
        return described(
                        new Asked(connection, Optional.of(which[1]), Optional.of(which[0])),
                        List.of(which[1]),
                        which[0])
                .get(table);
    }

    @Override
    public Map<TableName, TableShape> describeAll(Connection connection, TableName one) throws SQLException {
        String schema = which(one)[0];
        List<String> tables = Rows.read(
                connection,
                "SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                        + " WHERE n.nspname = ? AND c.relkind IN ('r', 'p', 'v', 'm', 'f')",
                row -> row.getString(1),
                schema);
        return described(new Asked(connection, Optional.empty(), Optional.of(schema)), tables, schema);
    }

    private static Map<TableName, TableShape> described(Asked asked, List<String> tables, String schema)
            throws SQLException {
        Map<String, List<String>> kinds = asked.read("""
                SELECT c.relkind, c.relname AS of_table FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
                WHERE n.nspname = ? AND c.relname = :table
                """, row -> row.getString(1));
        Map<String, List<String>> triggers = asked.read("""
                SELECT t.tgname, c.relname AS of_table FROM pg_trigger t
                JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace
                WHERE n.nspname = ? AND c.relname = :table AND NOT t.tgisinternal
                """, row -> row.getString(1));
        Map<String, List<String>> heirs = asked.read("""
                SELECT i.inhrelid::text, c.relname AS of_table FROM pg_inherits i
                JOIN pg_class c ON c.oid = i.inhparent JOIN pg_namespace n ON n.oid = c.relnamespace
                WHERE n.nspname = ? AND c.relname = :table AND c.relkind <> 'p'
                """, row -> row.getString(1));
        Map<String, List<ColumnShape>> columns = columns(asked);
        Map<String, List<KeyPart>> keys = keys(asked);
        Map<String, List<ForeignKey>> foreignKeys = foreignKeys(asked);
        Map<String, List<Reaction>> reactions = reactions(asked);
        Map<TableName, TableShape> shapes = new LinkedHashMap<>();
        for (String table : tables) {
            String kind = kinds.getOrDefault(table, List.of("r")).get(0);
            TableShape shape = new TableShape(
                            name(schema, table),
                            kind.equals("v") || kind.equals("m"),
                            columns.getOrDefault(table, List.of()),
                            keysOf(keys.getOrDefault(table, List.of())),
                            foreignKeys.getOrDefault(table, List.of()),
                            triggers.containsKey(table))
                    .with(new SideEffects(
                            List.of(), reactions.getOrDefault(table, List.of()), true, heirs.containsKey(table)));
            shapes.put(shape.name(), shape);
        }
        return shapes;
    }

    private static Map<String, List<Reaction>> reactions(Asked asked) throws SQLException {
        return Reactions.read(asked, PgCatalogue::name, """
                SELECT f.oid::text, n.nspname, c.relname, a.attname, pa.attname,
                       CASE f.confdeltype WHEN 'c' THEN 'CASCADE' ELSE 'SET' END, p.relname AS of_table
                """ + REFERENCES + """
                WHERE pn.nspname = ? AND p.relname = :table AND f.contype = 'f' AND f.confdeltype IN ('c', 'n', 'd')
                  AND f.conparentid = 0
                ORDER BY f.oid, k.place
                """);
    }

    private static Map<String, List<ColumnShape>> columns(Asked asked) throws SQLException {
        return asked.read("""
                WITH RECURSIVE base (id, base, typmod) AS (
                  SELECT oid, oid, -1 FROM pg_type WHERE typtype <> 'd'
                  UNION ALL
                  SELECT t.oid, b.base, CASE WHEN t.typtypmod >= 0 THEN t.typtypmod ELSE b.typmod END
                  FROM pg_type t JOIN base b ON b.id = t.typbasetype WHERE t.typtype = 'd')
                SELECT a.attname, format_type(a.atttypid, a.atttypmod) AS declared, t.typname, t.typtype,
                       CASE WHEN a.atttypmod >= 0 THEN a.atttypmod ELSE b.typmod END AS typmod,
                       a.attnotnull, a.attidentity, a.attgenerated,
                       coalesce(pg_get_expr(d.adbin, d.adrelid), '') AS default_value,
                       l.collname, l.collisdeterministic, coalesce(l.oid = 'pg_catalog."C"'::regcollation, false) AS by_bytes,
                       c.relname AS of_table
                FROM pg_attribute a
                JOIN pg_class c ON c.oid = a.attrelid
                JOIN pg_namespace n ON n.oid = c.relnamespace
                JOIN base b ON b.id = a.atttypid
                JOIN pg_type t ON t.oid = b.base
                LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum
                LEFT JOIN pg_collation l ON l.oid = a.attcollation
                WHERE n.nspname = ? AND c.relname = :table AND a.attnum > 0 AND NOT a.attisdropped
                ORDER BY a.attrelid, a.attnum
                """, PgCatalogue::column);
    }

    private static ColumnShape column(ResultSet row) throws SQLException {
        String type = row.getString("typname");
        boolean byBytes = row.getBoolean("by_bytes");
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
                // Of collations those matter that hold different texts equal, and the one that orders them as we do.
                loose
                        ? Optional.of(type.equals("citext") ? type : row.getString("collname"))
                        : Optional.of(ColumnShape.BY_BYTES).filter(name -> byBytes));
    }

    /** A column of a unique index. */
    private record KeyPart(String index, boolean primary, String column) {}

    private static Map<String, List<KeyPart>> keys(Asked asked) throws SQLException {
        return asked.read("""
                SELECT i.indexrelid::text, i.indisprimary, a.attname, c.relname AS of_table
                FROM pg_index i
                JOIN pg_class c ON c.oid = i.indrelid
                JOIN pg_namespace n ON n.oid = c.relnamespace
                CROSS JOIN LATERAL unnest(i.indkey::int2[]) WITH ORDINALITY AS k (attnum, place)
                JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.attnum
                WHERE n.nspname = ? AND c.relname = :table AND i.indisunique AND i.indisvalid AND i.indpred IS NULL
                  AND i.indexprs IS NULL AND k.place <= i.indnkeyatts
                ORDER BY i.indisprimary DESC, i.indexrelid, k.place
                """, row -> new KeyPart(row.getString(1), row.getBoolean(2), row.getString(3)));
    }

    private static List<KeyShape> keysOf(List<KeyPart> parts) {
        return Grouped.by(parts, KeyPart::index).stream()
                .map(key -> new KeyShape(
                        key.get(0).primary(), key.stream().map(KeyPart::column).toList()))
                .toList();
    }

    private static Map<String, List<ForeignKey>> foreignKeys(Asked asked) throws SQLException {
        return ForeignKeys.read(asked, PgCatalogue::name, """
                SELECT f.oid::text, a.attname, pn.nspname, p.relname, pa.attname, c.relname AS of_table
                """ + REFERENCES + """
                WHERE n.nspname = ? AND c.relname = :table AND f.contype = 'f'
                ORDER BY f.oid, k.place
                """);
    }
}
