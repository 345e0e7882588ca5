package sharptally.acceptance;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.BiPredicate;
import java.util.stream.IntStream;

/**
 * A job file for many tables of a soak, each in a way of its own: by rules (letter case of texts, decimals that lie near
 * each other), of some rows alone, one side or both read through a query or a view.
 */
final class SoakJob {
    private static final BigDecimal NEAR = BigDecimal.valueOf(300_000);

    /** How one table is compared, and what then counts. */
    record Match(String name, SoakTable table, BiPredicate<SoakTable, Object[]> wanted, boolean ruled) {
        /** Whether two values are the same by a rule alone. */
        boolean same(int column, Object one, Object other) {
            return ruled && !table.key.contains(column) && SoakJob.same(table.types.get(column), one, other);
        }
    }

    final List<Match> matches = new ArrayList<>();
    private final Random random;
    private final Soak.Pair pair;
    private final StringBuilder text = new StringBuilder();

    SoakJob(Soak.Pair pair, Random random) {
        this.pair = pair;
        this.random = random;
        text.append("job: 1\nsource: \"" + pair.source().address() + "\"\ntarget: \""
                + pair.target().address() + "\"\nallow-empty: true\nmatches:\n");
        pair.tables().stream().filter(SoakJob::takes).forEach(this::add);
    }

    /** Whether a table goes into such a job. */
    static boolean takes(SoakTable table) {
        return table.schema.isEmpty() && table.name.matches("t\\d+");
    }

    static String view(SoakTable table) {
        return "view_of_" + table.name;
    }

    String text() {
        return text.toString();
    }

    private void add(SoakTable table) {
        String name = "m" + matches.size();
        text.append("  - name: " + name + "\n");
        text.append("    source: " + side(pair.source(), table) + "\n");
        text.append("    target: " + side(pair.target(), table) + "\n");
        if (!table.key.isEmpty()) {
            text.append("    key: ["
                    + String.join(
                            ", ",
                            table.key.stream()
                                    .map(c -> yaml(table.columns.get(c)))
                                    .toList())
                    + "]\n");
        }
        BiPredicate<SoakTable, Object[]> wanted = random.nextInt(3) > 0 ? filter(table) : (t, row) -> true;
        boolean ruled = random.nextBoolean() && fit(table);
        if (ruled) {
            rules(table);
        }
        matches.add(new Match(name, table, wanted, ruled));
    }

    private String side(Database database, SoakTable table) {
        return switch (table.key.isEmpty() ? 0 : random.nextInt(5)) {
            case 1 -> view(table);
            case 2 -> "{query: " + yaml("SELECT * FROM " + database.quote(table.name)) + "}";
            default -> table.name;
        };
    }

    private BiPredicate<SoakTable, Object[]> filter(SoakTable table) {
        int column = random.nextInt(table.columns.size());
        SoakTable.Type type = table.types.get(column);
        boolean whole = type == SoakTable.Type.INT || type == SoakTable.Type.SMALL;
        List<Long> held = whole
                ? table.source.stream()
                        .map(r -> (Long) r[column])
                        .filter(v -> v != null && v != Long.MIN_VALUE)
                        .toList()
                : List.of();
        String condition = " IS NOT NULL";
        BiPredicate<SoakTable, Object[]> wanted = (t, row) -> row[column] != null;
        if (!held.isEmpty()) {
            long least = held.get(random.nextInt(held.size()));
            condition = " >= " + least;
            wanted = (t, row) -> row[column] != null && (Long) row[column] >= least;
        }
        String name = table.columns.get(column);
        text.append("    where:\n      source: " + yaml(pair.source().quote(name) + condition) + "\n      target: "
                + yaml(pair.target().quote(name) + condition) + "\n");
        return wanted;
    }

    /** Rows without a key are told apart by their values, which no rule can follow. */
    private static boolean fit(SoakTable table) {
        return !table.key.isEmpty()
                && IntStream.range(0, table.columns.size())
                        .anyMatch(c -> !table.key.contains(c)
                                && !rule(table.types.get(c)).isEmpty());
    }

    private void rules(SoakTable table) {
        text.append("    columns:\n");
        for (int c = 0; c < table.columns.size(); c++) {
            if (!table.key.contains(c) && !rule(table.types.get(c)).isEmpty()) {
                text.append("      - {source: " + yaml(table.columns.get(c)) + ", " + rule(table.types.get(c)) + "}\n");
            }
        }
    }

    private static String yaml(String name) {
        return '"' + name.replace("\\", "\\\\").replace("\"", "\\\"") + '"';
    }

    private static String rule(SoakTable.Type type) {
        return switch (type) {
            case TEXT, LONG_TEXT -> "case: ignore";
            case DECIMAL -> "within: " + NEAR;
            default -> "";
        };
    }

    private static boolean same(SoakTable.Type type, Object one, Object other) {
        if (one == null || other == null) {
            return false;
        }
        return switch (type) {
            case TEXT, LONG_TEXT -> one.toString().equalsIgnoreCase(other.toString());
            case DECIMAL ->
                ((BigDecimal) one).subtract((BigDecimal) other).abs().compareTo(NEAR) <= 0;
            default -> false;
        };
    }
}
