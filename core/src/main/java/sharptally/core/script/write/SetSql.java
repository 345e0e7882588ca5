package sharptally.core.script.write;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.script.Change;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.ScriptFrame.Precondition;
import sharptally.core.sql.SetForm;
import sharptally.core.sql.SqlDialect;

/**
 * Changes of one shape carried out as one set: their rows are staged in a temporary table, which one statement then
 * brings into the target. Immutable.
 */
final class SetSql {
    private static final int MAX_NAME = 60;

    /** By which name staged rows go in a statement; not one that a table may well have. */
    private static final String ALIAS = "sharp_tally";

    /** Engines take tables of so many columns at least. */
    private static final int MAX_STAGED = 1_000;

    /** A column of the staged rows. */
    private record Staged(String name, ColumnShape column, Function<Change, Field> field) {}

    private final SqlDialect dialect;
    private final ChangeSql sql;
    private final boolean guarded;
    private final TableShape table;
    private final String name;
    private final Change first;
    private final List<Staged> keys = new ArrayList<>();
    private final List<Staged> before = new ArrayList<>();
    private final List<Staged> after = new ArrayList<>();

    /**
     * @param name of the temporary table
     * @param first one of the changes; the others are of its shape
     */
    SetSql(ChangeSql sql, TableShape table, String name, Change first) {
        this.sql = sql;
        this.dialect = sql.dialect();
        this.guarded = sql.guarded();
        this.table = table;
        this.name = name;
        this.first = first;
        if (first instanceof Change.Insert insert) {
            stage(after, insert.row(), "", c -> ((Change.Insert) c).row());
        } else if (first instanceof Change.Update update) {
            stage(keys, update.key(), "", c -> ((Change.Update) c).key());
            if (guarded) {
                stage(before, update.before(), "_was", c -> ((Change.Update) c).before());
                stage(before, sql.others(update), "_was", c -> sql.others((Change.Update) c));
            }
            stage(after, update.after(), "_new", c -> ((Change.Update) c).after());
        } else {
            Change.Delete delete = (Change.Delete) first;
            int count = guarded || delete.keyColumns() == 0 ? delete.row().size() : delete.keyColumns();
            stage(keys, delete.row().subList(0, count), "", c -> ((Change.Delete) c).row());
        }
    }

    private static void stage(
            List<Staged> into, List<Field> fields, String suffix, Function<Change, List<Field>> fieldsOf) {
        for (int i = 0; i < fields.size(); i++) {
            int at = i;
            ColumnShape column = fields.get(i).column();
            into.add(new Staged(
                    column.name() + suffix, column, c -> fieldsOf.apply(c).get(at)));
        }
    }

    /** Changes that can be carried out together; empty for those that must stand alone. */
    static Optional<List<String>> shape(ChangeSql sql, TableShape table, Change change) {
        SqlDialect dialect = sql.dialect();
        if (change instanceof Change.Delete delete) {
            return ChangeSql.mustGoAlone(dialect, table, delete) ? Optional.empty() : Optional.of(List.of("delete"));
        }
        boolean insert = change instanceof Change.Insert;
        if (change instanceof Change.Update update
                && (sql.mayMeetMany(table, update) || dialect.setForm() == SetForm.MERGE_WHERE && changesKey(update))) {
            return Optional.empty();
        }
        List<Field> fields = insert ? ((Change.Insert) change).row() : ((Change.Update) change).after();
        List<Field> others = insert ? List.of() : sql.others((Change.Update) change);
        if (2 * fields.size() + others.size() > MAX_STAGED) {
            return Optional.empty();
        }
        return Optional.of(Stream.of(
                        Stream.of(insert ? "insert" : "update"),
                        fields.stream().map(f -> f.column().name()),
                        Stream.of("others"),
                        others.stream().map(f -> f.column().name()))
                .flatMap(s -> s)
                .toList());
    }

    private static boolean changesKey(Change.Update update) {
        List<String> changed =
                update.after().stream().map(f -> f.column().name()).toList();
        return update.key().stream().anyMatch(f -> changed.contains(f.column().name()));
    }

    private List<Staged> columns() {
        return Stream.of(keys, before, after).flatMap(List::stream).toList();
    }

    /** Names that tell what is in them; numbers where such names would be too long, or two would be the same. */
    private List<String> names() {
        List<String> telling = columns().stream().map(Staged::name).toList();
        Set<String> distinct = new HashSet<>();
        boolean usable =
                telling.stream().allMatch(n -> n.length() <= MAX_NAME && distinct.add(n.toLowerCase(Locale.ROOT)));
        return usable
                ? telling
                : IntStream.rangeClosed(1, telling.size())
                        .mapToObj(i -> "c" + i)
                        .toList();
    }

    private String staged(Staged column) {
        return ALIAS + "." + dialect.quote(names().get(columns().indexOf(column)));
    }

    private String ofTable(ColumnShape column) {
        return dialect.quote(table.name()) + "." + dialect.quote(column.name());
    }

    /** Makes the temporary table, its columns being of the types of those that they stand for. */
    String create() {
        List<String> names = names();
        List<Staged> columns = columns();
        return dialect.stage(
                name,
                IntStream.range(0, names.size())
                        .mapToObj(i ->
                                dialect.quote(columns.get(i).column().name()) + " AS " + dialect.quote(names.get(i)))
                        .collect(Collectors.joining(
                                ", ", "SELECT ", " FROM " + dialect.quote(table.name()) + " WHERE 1 = 0")));
    }

    /** Stages the rows of some changes, a row a line. */
    String insert(List<Change> changes) {
        List<Staged> columns = columns();
        List<String> rows = changes.stream()
                .map(change -> columns.stream()
                        .map(c -> c.field().apply(change))
                        .map(f -> dialect.literal(f.value(), f.column()))
                        .collect(Collectors.joining(", ", "  (", ")")))
                .toList();
        return dialect.insertRows("INSERT INTO " + name, rows);
    }

    /** The statement that brings the staged rows into the target. */
    String statement() {
        if (first instanceof Change.Insert insert) {
            return inserts(insert);
        }
        String target = dialect.rowsOf(table);
        if (first instanceof Change.Delete) {
            return dialect.setForm() == SetForm.JOIN
                    ? "DELETE " + target + " FROM " + target + " JOIN " + name + " " + ALIAS + "\n  ON " + held()
                            + alone()
                    : "DELETE FROM " + target + "\nWHERE " + exists() + alone();
        }
        boolean join = dialect.setForm() == SetForm.JOIN;
        String sets = sets(
                        after,
                        c -> join
                                ? ofTable(c.column())
                                : dialect.quote(c.column().name()),
                        this::staged)
                + sql.kept(
                        table,
                        after.stream().map(c -> c.column().name()).toList(),
                        column -> join
                                ? dialect.quote(table.name()) + "." + dialect.quote(column)
                                : dialect.quote(column));
        return switch (dialect.setForm()) {
            case FROM -> "UPDATE " + target + "\nSET " + sets + "\nFROM " + name + " " + ALIAS + "\nWHERE " + held();
            case JOIN -> "UPDATE " + target + " JOIN " + name + " " + ALIAS + "\n  ON " + held() + "\nSET " + sets;
            case MERGE -> mergeOn(held()) + "\nWHEN MATCHED THEN UPDATE SET " + sets;
            case MERGE_WHERE ->
                mergeOn(together(found())) + "\nWHEN MATCHED THEN UPDATE SET " + sets
                        + (before.isEmpty() ? "" : "\n  WHERE " + together(unchanged()));
        };
    }

    private String mergeOn(String condition) {
        return "MERGE INTO " + dialect.merged(table) + " USING " + name + " " + ALIAS + "\n  ON (" + condition + ")";
    }

    /** By what a row of the target and a staged one belong together. */
    private List<String> found() {
        return keys.stream()
                .map(c -> c.column().nullable()
                        ? same(c)
                        : ofTable(c.column()) + " = " + staged(c) + (c.column().isLoose() ? " AND " + same(c) : ""))
                .toList();
    }

    /** That it holds what it held. */
    private List<String> unchanged() {
        return before.stream().map(this::same).toList();
    }

    private String held() {
        return together(Stream.concat(found().stream(), unchanged().stream()).toList());
    }

    private static String together(List<String> all) {
        if (all.size() <= ChangeSql.FIELDS_TOGETHER) {
            return String.join(" AND ", all);
        }
        return IntStream.iterate(0, from -> from < all.size(), from -> from + ChangeSql.FIELDS_TOGETHER)
                .mapToObj(from -> all.subList(from, Math.min(all.size(), from + ChangeSql.FIELDS_TOGETHER)))
                .map(part -> String.join(" AND ", part))
                .collect(Collectors.joining(") AND (", "(", ")"));
    }

    private String same(Staged column) {
        return dialect.same(column.column(), ofTable(column.column()), staged(column));
    }

    private String alone() {
        return first instanceof Change.Delete ? sql.alone(table) : "";
    }

    private String exists() {
        return "EXISTS (SELECT 1 FROM " + name + " " + ALIAS + " WHERE " + held() + ")";
    }

    /** What must be so before {@link #statement}. */
    Optional<Precondition> precondition(long rows) {
        if (first instanceof Change.Insert insert) {
            return insert.key().isEmpty()
                    ? Optional.empty()
                    : Optional.of(Precondition.row(
                            false, "EXISTS (SELECT 1 FROM " + name + " " + ALIAS + " WHERE " + sameKey(insert) + ")"));
        }
        return Optional.of(Precondition.rows(exists() + alone(), rows));
    }

    private String sameKey(Change.Insert insert) {
        List<String> keyNames =
                insert.key().stream().map(f -> f.column().name()).toList();
        return after.stream()
                .filter(c -> keyNames.contains(c.column().name()))
                .map(this::same)
                .collect(Collectors.joining(" AND "));
    }

    private String inserts(Change.Insert insert) {
        String target = dialect.quote(table.name());
        String columns = names(after);
        String into = "INSERT INTO " + target + " (" + columns + ")" + dialect.overridingIdentity(table);
        String select = "\nSELECT " + after.stream().map(this::staged).collect(Collectors.joining(", ")) + " FROM "
                + name + " " + ALIAS;
        if (guarded) {
            List<String> conditions = Stream.of(
                            sql.ifToDo(),
                            insert.key().isEmpty()
                                    ? ""
                                    : "NOT EXISTS (SELECT 1 FROM " + dialect.rowsOf(table) + " WHERE " + sameKey(insert)
                                            + ")")
                    .filter(c -> !c.isEmpty())
                    .toList();
            return into + select + (conditions.isEmpty() ? "" : "\nWHERE " + String.join(" AND ", conditions));
        }
        Optional<List<Staged>> key = uniqueKey();
        if (key.isEmpty()) {
            return into + select;
        }
        return dialect.setForm() == SetForm.MERGE || dialect.setForm() == SetForm.MERGE_WHERE
                ? merge(columns, key.get())
                : into + select + onConflict(key.get());
    }

    private String names(List<Staged> columns) {
        return columns.stream().map(c -> dialect.quote(c.column().name())).collect(Collectors.joining(", "));
    }

    /** The first key of the table, if all its columns are inserted: rows that have it already are overwritten. */
    private Optional<List<Staged>> uniqueKey() {
        return table.keys().stream()
                .findFirst()
                .map(k -> after.stream()
                        .filter(c -> k.columns().contains(c.column().name()))
                        .toList())
                .filter(found -> found.size() == table.keys().get(0).columns().size());
    }

    private String onConflict(List<Staged> key) {
        List<Staged> others = others(key);
        if (dialect.setForm() == SetForm.JOIN) {
            return "\nON DUPLICATE KEY UPDATE "
                    + sets(others.isEmpty() ? key : others, c -> ofTable(c.column()), this::staged);
        }
        String conflict = " WHERE 1 = 1\nON CONFLICT (" + names(key) + ") DO ";
        return others.isEmpty()
                ? conflict + "NOTHING"
                : conflict + "UPDATE SET "
                        + sets(
                                others,
                                c -> dialect.quote(c.column().name()),
                                c -> "excluded." + dialect.quote(c.column().name()));
    }

    private String merge(String columns, List<Staged> key) {
        String on = key.stream().map(this::same).collect(Collectors.joining(" AND "));
        List<Staged> others = others(key);
        String update = others.isEmpty()
                ? ""
                : "\nWHEN MATCHED THEN UPDATE SET "
                        + sets(others, c -> dialect.quote(c.column().name()), this::staged);
        return mergeOn(on) + update + "\nWHEN NOT MATCHED THEN INSERT (" + columns + ") VALUES ("
                + after.stream().map(this::staged).collect(Collectors.joining(", ")) + ")";
    }

    private List<Staged> others(List<Staged> key) {
        return after.stream().filter(c -> !key.contains(c)).toList();
    }

    private static String sets(List<Staged> columns, Function<Staged, String> column, Function<Staged, String> value) {
        return columns.stream()
                .map(c -> column.apply(c) + " = " + value.apply(c))
                .collect(Collectors.joining(", "));
    }

    /** Removes the temporary table. */
    String drop() {
        return dialect.unstage(name);
    }
}
