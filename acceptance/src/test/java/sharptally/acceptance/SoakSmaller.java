package sharptally.acceptance;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiPredicate;
import java.util.stream.Collectors;

/**
 * Makes a failing case of the soak smaller: one table, and as few of its rows as still fail.
 *
 * @param folder where the trials are made
 */
record SoakSmaller(Path folder) {
    private static final int TRIALS = 60;

    /** The same failure with fewer rows, found by leaving rows out as long as it fails. */
    String smaller(Soak.Pair pair, SoakTable table, List<String> ways, BiPredicate<SoakTable, Object[]> wanted) {
        List<Object[]> source = table.source;
        List<Object[]> target = table.target;
        String last = "";
        int trials = 0;
        try {
            for (int step = Math.max(source.size(), target.size()); step >= 1 && trials < TRIALS; step /= 2) {
                for (int from = 0; from < Math.max(table.source.size(), table.target.size()) && trials < TRIALS; ) {
                    List<Object[]> one = table.source;
                    List<Object[]> other = table.target;
                    Set<String> gone = new TreeSet<>();
                    one.stream().skip(from).limit(step).forEach(r -> gone.add(identity(table, r)));
                    other.stream().skip(from).limit(step).forEach(r -> gone.add(identity(table, r)));
                    table.source = new ArrayList<>(one.stream()
                            .filter(r -> !gone.contains(identity(table, r)))
                            .toList());
                    table.target = new ArrayList<>(other.stream()
                            .filter(r -> !gone.contains(identity(table, r)))
                            .toList());
                    String why = alone(pair, table, ways, wanted, trials++);
                    if (why.isEmpty()) {
                        table.source = one;
                        table.target = other;
                        from += step;
                    } else {
                        last = why;
                    }
                }
            }
            return "smaller: " + last + "\n" + table.story();
        } catch (Exception e) {
            return "can't be made smaller: " + e + "\n" + table.story();
        } finally {
            table.source = source;
            table.target = target;
        }
    }

    private static String identity(SoakTable table, Object[] row) {
        return table.key.isEmpty()
                ? java.util.Arrays.stream(row).map(SoakTable::plain).collect(Collectors.joining("\0"))
                : table.keyText(row);
    }

    private String alone(
            Soak.Pair pair, SoakTable table, List<String> ways, BiPredicate<SoakTable, Object[]> wanted, int trial)
            throws Exception {
        Path here = Files.createDirectories(folder.resolve("trial" + trial));
        Soak.Pair small = new Soak.Pair(
                new Database(pair.source().kind(), here, "one"),
                new Database(pair.target().kind(), here, "two"),
                List.of(table));
        Soak.create(small);
        try {
            Tool tool = new Tool(here);
            Tool.Result result = tool.run(Soak.command(small, ways).toArray(new String[0]));
            if (result.code() > 1) {
                return result.all();
            }
            Path run = tool.latestRun();
            return SoakFindings.problem(table, Soak.summaryOf(run), run, wanted);
        } finally {
            Soak.drop(small);
            Soak.delete(here);
        }
    }
}
