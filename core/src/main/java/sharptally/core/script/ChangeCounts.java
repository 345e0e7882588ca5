package sharptally.core.script;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.BiConsumer;
import sharptally.core.match.TableMatch;

/** How many changes of each kind a plan holds, per target table, in the plan's order. */
public record ChangeCounts(Map<String, PerTable> tables) {
    /** Rows to insert, update and delete in one table. */
    public record PerTable(long inserts, long updates, long deletes) {
        public long all() {
            return inserts + updates + deletes;
        }
    }

    /** Reads the plan through once. */
    public static ChangeCounts of(ChangePlan plan) {
        return of(plan, (match, change) -> {});
    }

    /**
     * Reads the plan through once.
     *
     * @param each told of each change
     */
    static ChangeCounts of(ChangePlan plan, BiConsumer<TableMatch, Change> each) {
        Map<String, PerTable> tables = new LinkedHashMap<>();
        plan.matches().forEach(m -> tables.put(name(m), new PerTable(0, 0, 0)));
        plan.play(new ChangeSink() {
            @Override
            public void beginTable(TableMatch match, Stage stage) {}

            @Override
            public void change(TableMatch match, Change change) {
                each.accept(match, change);
            }

            @Override
            public void endTable(TableMatch match, Stage stage, long rows) {
                tables.computeIfPresent(name(match), (n, c) -> add(c, stage, rows));
            }
        });
        tables.values().removeIf(c -> c.all() == 0);
        return new ChangeCounts(tables);
    }

    private static PerTable add(PerTable counts, ChangeSink.Stage stage, long rows) {
        return switch (stage) {
            case INSERTS -> new PerTable(counts.inserts() + rows, counts.updates(), counts.deletes());
            case UPDATES -> new PerTable(counts.inserts(), counts.updates() + rows, counts.deletes());
            case DELETES -> new PerTable(counts.inserts(), counts.updates(), counts.deletes() + rows);
            case ASIDE, REFERENCES, UNREFERENCES -> counts;
        };
    }

    /** What takes these changes back. */
    public ChangeCounts reversed() {
        Map<String, PerTable> back = new LinkedHashMap<>();
        tables.forEach((name, c) -> back.put(name, new PerTable(c.deletes(), c.updates(), c.inserts())));
        return new ChangeCounts(back);
    }

    private static String name(TableMatch match) {
        return match.target().name().name();
    }

    public long all() {
        return tables.values().stream().mapToLong(PerTable::all).sum();
    }
}
