package sharptally.engines.postgresql;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableName;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.PartitionBounds;

/** Partitions as PostgreSQL declares them; those of partitions count for nothing. */
final class PgPartitions {
    private static final String SQL = """
            SELECT t.partstrat, t.partnatts, a.attname, p.relname, pg_get_expr(p.relpartbound, p.oid)
            FROM pg_partitioned_table t
            JOIN pg_class c ON c.oid = t.partrelid
            JOIN pg_namespace n ON n.oid = c.relnamespace
            LEFT JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = t.partattrs[0] AND a.attnum > 0
            LEFT JOIN pg_inherits i ON i.inhparent = c.oid
            LEFT JOIN pg_class p ON p.oid = i.inhrelid
            WHERE n.nspname = ? AND c.relname = ? ORDER BY p.relname
            """;

    /** A value as it stands in a bound. */
    private static final PartitionBounds BOUNDS =
            new PartitionBounds(Pattern.compile("'((?:[^']|'')*)'|([^,()'\\s]+)"), false);

    private static final Pattern RANGE = Pattern.compile("FOR VALUES FROM \\((.*)\\) TO \\((.*)\\)", Pattern.DOTALL);
    private static final Pattern LIST = Pattern.compile("FOR VALUES IN \\((.*)\\)", Pattern.DOTALL);

    private PgPartitions() {}

    private record Declared(String strategy, int columns, Optional<String> column, String name, String bound) {}

    static Optional<Partitioning> of(Connection connection, String schema, TableName table) throws SQLException {
        List<Declared> all = Rows.read(
                connection,
                SQL,
                row -> new Declared(
                        row.getString(1),
                        row.getInt(2),
                        Optional.ofNullable(row.getString(3)),
                        Optional.ofNullable(row.getString(4)).orElse(""),
                        Optional.ofNullable(row.getString(5)).orElse("")),
                schema,
                table.name());
        if (all.isEmpty()) {
            return Optional.empty();
        }
        Declared one = all.get(0);
        if (one.strategy.equals("h")) {
            return Optional.of(Partitioning.untold("its partitions are by a hash"));
        }
        if (one.columns != 1 || one.column.isEmpty()) {
            return Optional.of(Partitioning.untold("its partitions are by "
                    + (one.columns == 1 ? "an expression" : one.columns + " columns together")));
        }
        List<Partitioning.Part> parts = new ArrayList<>();
        for (Declared part : all) {
            Matcher range = RANGE.matcher(part.bound);
            Matcher list = LIST.matcher(part.bound);
            if (range.matches()) {
                parts.add(new Partitioning.Part(
                        part.name,
                        List.of(new Partitioning.Values(bound(range.group(1)), bound(range.group(2)), false)),
                        false));
            } else if (list.matches()) {
                parts.add(BOUNDS.listed(part.name, list.group(1)));
            }
        }
        return Optional.of(new Partitioning(one.column.get(), parts, ""));
    }

    /** An end of a range; empty where there is none. */
    private static Optional<String> bound(String text) {
        return text.equals("MINVALUE") || text.equals("MAXVALUE")
                ? Optional.empty()
                : BOUNDS.values(text).get(0);
    }
}
