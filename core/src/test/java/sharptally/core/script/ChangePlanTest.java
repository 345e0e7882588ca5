package sharptally.core.script;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.RepeatedTest;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * Plays plans for random rows of tables that refer to each other and to themselves, or exchange unique values, against a
 * target in memory, which refuses, after every single change, what a database with immediate constraints would refuse.
 */
class ChangePlanTest {
    /** Tables by name: for each the table that its column {@code ref} refers to. */
    private static final Map<String, String> REFERS = new LinkedHashMap<>();

    static {
        REFERS.put("harbour", "");
        REFERS.put("gauge", "harbour");
        REFERS.put("reading", "gauge");
        REFERS.put("observer", "observer");
        REFERS.put("berth", "");
        REFERS.put("buoy", "");
    }

    /** Tables whose column {@code v} is unique; in the second it can't be NULL. */
    private static final List<String> UNIQUE = List.of("berth", "buoy");

    private static TableShape table(String name, String parent) {
        List<KeyShape> keys = new ArrayList<>(List.of(new KeyShape(true, List.of("id"))));
        if (UNIQUE.contains(name)) {
            keys.add(new KeyShape(false, List.of("v")));
        }
        ColumnShape id = column("id", false);
        ColumnShape ref = column("ref", true);
        return new TableShape(
                TableName.of(name),
                false,
                List.of(id, ref, column("v", !name.equals("buoy"))),
                keys,
                parent.isEmpty()
                        ? List.of()
                        : List.of(new ForeignKey(List.of("ref"), TableName.of(parent), List.of("id"))),
                false);
    }

    private static ColumnShape column(String name, boolean nullable) {
        return new ColumnShape(
                name,
                "BIGINT",
                Optional.of(CanonicalType.of(Kind.INTEGER)),
                nullable,
                Generation.NONE,
                Optional.empty());
    }

    /** A dialect of which plans need nothing. */
    private static final SqlDialect DIALECT = org.mockito.Mockito.mock(
            SqlDialect.class, org.mockito.Mockito.withSettings().stubOnly());

    /** Rows of all tables: by table, then by id, the reference and the value. */
    private static final class Rows {
        final Map<String, TreeMap<Long, List<Value>>> tables = new HashMap<>();

        Rows() {
            REFERS.keySet().forEach(t -> tables.put(t, new TreeMap<>()));
        }

        Rows copy() {
            Rows copy = new Rows();
            tables.forEach((t, rows) -> copy.tables.get(t).putAll(rows));
            return copy;
        }

        void check(Object after) {
            UNIQUE.forEach(table -> {
                List<Value> held = tables.get(table).values().stream()
                        .map(row -> row.get(2))
                        .filter(v -> !(v instanceof Value.Null))
                        .toList();
                if (new HashSet<>(held).size() < held.size()) {
                    throw new AssertionError("a value twice in " + table + " after " + after);
                }
            });
            REFERS.forEach((table, parent) -> tables.get(table).values().forEach(row -> {
                boolean dangling = row.get(1) instanceof Value.Int ref
                        && !parent.isEmpty()
                        && !tables.get(parent).containsKey(ref.value());
                if (dangling) {
                    throw new AssertionError("a row of " + table + " refers to nothing after " + after);
                }
            }));
        }
    }

    private static Rows random(Random random) {
        Rows rows = new Rows();
        REFERS.forEach((table, parent) -> {
            TreeMap<Long, List<Value>> own = rows.tables.get(table);
            for (long id = 1; id <= 14; id++) {
                if (random.nextInt(3) > 0) {
                    own.put(id, List.of(new Value.Int(id), Value.NULL, new Value.Int(random.nextInt(3))));
                }
            }
            if (UNIQUE.contains(table)) {
                List<Long> values = new ArrayList<>(
                        java.util.stream.LongStream.rangeClosed(1, 17).boxed().toList());
                java.util.Collections.shuffle(values, random);
                own.replaceAll((id, row) -> {
                    boolean none = table.equals("berth") && random.nextInt(6) == 0;
                    return List.of(row.get(0), Value.NULL, none ? Value.NULL : new Value.Int(values.remove(0)));
                });
            }
            List<Long> parents = new ArrayList<>(
                    parent.isEmpty() ? List.of() : rows.tables.get(parent).keySet());
            own.replaceAll((id, row) -> parents.isEmpty() || random.nextInt(4) == 0
                    ? row
                    : List.of(row.get(0), new Value.Int(parents.get(random.nextInt(parents.size()))), row.get(2)));
        });
        return rows;
    }

    private static List<Finding> findings(TreeMap<Long, List<Value>> source, TreeMap<Long, List<Value>> target) {
        TreeSet<Long> ids = new TreeSet<>(source.keySet());
        ids.addAll(target.keySet());
        List<Finding> findings = new ArrayList<>();
        for (long id : ids) {
            List<Value> key = List.of(new Value.Int(id));
            List<Value> one = source.get(id);
            List<Value> other = target.get(id);
            if (other == null) {
                findings.add(new Finding.Missing(key, one, 1, false));
            } else if (one == null) {
                findings.add(new Finding.Extra(key, other, 1, false));
            } else if (!one.equals(other)) {
                List<Difference> differences = new ArrayList<>();
                for (int c = 1; c < 3; c++) {
                    if (!one.get(c).equals(other.get(c))) {
                        differences.add(new Difference(c, one.get(c), other.get(c)));
                    }
                }
                findings.add(new Finding.Changed(key, key, differences));
            }
        }
        return findings;
    }

    private static int place(Change.Field field) {
        return List.of("id", "ref", "v").indexOf(field.column().name());
    }

    private static List<Value> row(List<Change.Field> fields) {
        Value[] row = {Value.NULL, Value.NULL, Value.NULL};
        fields.forEach(f -> row[place(f)] = f.value());
        return List.of(row);
    }

    private static void make(Rows target, TableMatch match, Change change) {
        TreeMap<Long, List<Value>> rows = target.tables.get(match.name());
        if (change instanceof Change.Insert insert) {
            List<Value> row = row(insert.row());
            assertThat(rows.put(((Value.Int) row.get(0)).value(), row))
                    .as("inserted over a row")
                    .isNull();
        } else if (change instanceof Change.Delete delete) {
            List<Value> row = row(delete.row());
            assertThat(rows.remove(((Value.Int) row.get(0)).value()))
                    .as("deleted as it was")
                    .isEqualTo(row);
        } else if (change instanceof Change.Update update) {
            long id = ((Value.Int) update.key().get(0).value()).value();
            List<Value> row = new ArrayList<>(rows.get(id));
            update.before()
                    .forEach(f ->
                            assertThat(row.get(place(f))).as("held as compared").isEqualTo(f.value()));
            update.after().forEach(f -> row.set(place(f), f.value()));
            rows.put(id, List.copyOf(row));
        }
        target.check(change);
    }

    private static void play(ChangePlan plan, Rows target) {
        plan.play(new ChangeSink() {
            private long rows;

            @Override
            public void beginTable(TableMatch match, Stage stage) {
                rows = 0;
            }

            @Override
            public void change(TableMatch match, Change change) {
                rows++;
                make(target, match, change);
            }

            @Override
            public void endTable(TableMatch match, Stage stage, long counted) {
                assertThat(counted).isEqualTo(rows);
            }
        });
    }

    @RepeatedTest(200)
    void everyStepKeepsReferencesAndUndoLeadsBack() {
        long seed = System.nanoTime();
        Random random = new Random(seed);
        Rows source = random(random);
        Rows before = random(random);
        List<TableMatch> matches = new ArrayList<>();
        Map<String, List<Finding>> findings = new HashMap<>();
        REFERS.forEach((name, parent) -> {
            TableShape table = table(name, parent);
            matches.add(MatchPlanner.plan(table, table, MatchRequest.ofTables(name, name, List.of(), List.of())));
            findings.put(name, findings(source.tables.get(name), before.tables.get(name)));
        });
        java.util.Collections.shuffle(matches, random);
        FindingReader reader = (match, kinds, consumer) -> findings.get(match.name()).stream()
                .filter(f -> kinds.contains(f.kind()))
                .forEach(consumer);
        Rows target = before.copy();
        try {
            play(new ChangePlan(matches, reader, Direction.MEND, DIALECT), target);
            assertThat(target.tables).isEqualTo(source.tables);
            play(new ChangePlan(matches, reader, Direction.UNDO, DIALECT), target);
            assertThat(target.tables).isEqualTo(before.tables);
        } catch (AssertionError e) {
            throw new AssertionError("seed " + seed, e);
        }
    }
}
