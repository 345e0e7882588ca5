package sharptally.engines.mariadb;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableName;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.PartitionBounds;

/** Partitions as MariaDB and MySQL declare them; those of partitions count for nothing. */
final class MariaPartitions {
    private static final String SQL = """
            SELECT DISTINCT partition_ordinal_position, partition_method, partition_expression, partition_name,
                   partition_description
            FROM information_schema.partitions
            WHERE table_schema = ? AND table_name = ? AND partition_name IS NOT NULL ORDER BY 1
            """;

    private static final Pattern COLUMN = Pattern.compile("`((?:[^`]|``)+)`|(\\w+)");
    private static final Pattern CALL = Pattern.compile("(\\w+)\\s*\\((.*)\\)");

    /** A value as it stands in a bound. */
    private static final PartitionBounds BOUNDS =
            new PartitionBounds(Pattern.compile("_?\\w*'((?:[^'\\\\]|''|\\\\.)*)'|([^,()'\\s]+)"), true);

    /** Days before 1970, as {@code TO_DAYS} counts them. */
    private static final long DAYS = 719_528;

    private MariaPartitions() {}

    private record Declared(String method, String expression, String name, String bound) {}

    /** A column, and how the numbers of its bounds are its values. */
    private record By(String column, UnaryOperator<String> value) {}

    static Optional<Partitioning> of(Connection connection, String schema, TableName table) throws SQLException {
        List<Declared> all = Rows.read(
                connection,
                SQL,
                row -> new Declared(
                        row.getString(2).toUpperCase(Locale.ROOT),
                        Optional.ofNullable(row.getString(3)).orElse("").strip(),
                        row.getString(4),
                        Optional.ofNullable(row.getString(5)).orElse("")),
                schema,
                table.name());
        if (all.isEmpty()) {
            return Optional.empty();
        }
        Declared one = all.get(0);
        boolean range = one.method.startsWith("RANGE");
        if (!range && !one.method.startsWith("LIST")) {
            return Optional.of(Partitioning.untold("its partitions are by " + one.method.toLowerCase(Locale.ROOT)));
        }
        Optional<By> by = by(one.expression, range);
        if (by.isEmpty()) {
            return Optional.of(Partitioning.untold("its partitions are by " + one.expression));
        }
        List<Partitioning.Part> parts = new ArrayList<>();
        Optional<String> from = Optional.empty();
        for (Declared part : all) {
            if (range) {
                Optional<String> to = part.bound.equals("MAXVALUE")
                        ? Optional.empty()
                        : BOUNDS.values(part.bound).get(0).map(by.get().value);
                // What is NULL counts as less than all there.
                parts.add(new Partitioning.Part(
                        part.name, List.of(new Partitioning.Values(from, to, false)), from.isEmpty()));
                from = to;
            } else if (!part.bound.equals("DEFAULT")) {
                parts.add(BOUNDS.listed(part.name, part.bound));
            }
        }
        return Optional.of(new Partitioning(by.get().column, parts, ""));
    }

    private static Optional<By> by(String expression, boolean range) {
        Optional<String> plain = column(expression);
        if (plain.isPresent()) {
            return Optional.of(new By(plain.get(), UnaryOperator.identity()));
        }
        Matcher call = CALL.matcher(expression);
        Optional<String> column = call.matches() ? column(call.group(2).strip()) : Optional.empty();
        if (!range || column.isEmpty()) {
            return Optional.empty();
        }
        return switch (call.group(1).toLowerCase(Locale.ROOT)) {
            case "year" ->
                Optional.of(new By(
                        column.get(),
                        year -> LocalDate.of(Integer.parseInt(year), 1, 1).toString()));
            case "to_days" ->
                Optional.of(new By(
                        column.get(),
                        days -> LocalDate.ofEpochDay(Long.parseLong(days) - DAYS)
                                .toString()));
            case "unix_timestamp" ->
                Optional.of(new By(
                        column.get(),
                        seconds ->
                                Instant.ofEpochSecond(Long.parseLong(seconds)).toString()));
            default -> Optional.empty();
        };
    }

    private static Optional<String> column(String expression) {
        Matcher matcher = COLUMN.matcher(expression);
        return matcher.matches()
                ? Optional.of(
                        matcher.group(1) == null
                                ? matcher.group(2)
                                : matcher.group(1).replace("``", "`"))
                : Optional.empty();
    }
}
