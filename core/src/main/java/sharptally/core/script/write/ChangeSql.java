package sharptally.core.script.write;

import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.script.Change;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.SideEffects.Reaction;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.ScriptFrame.Precondition;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlText;
import sharptally.core.types.Value;

/**
 * Writes changes as statements of one engine. Immutable.
 *
 * @param guarded whether statements touch a row only while it holds what it held when it was compared
 * @param narrow whether of a row that is updated only its key and the changed columns must be as they were
 * @param reactsFreely whether a row is deleted also while rows of other tables refer to it that the database would then
 *     delete or change by itself
 * @param toDo an expression that is 1 where rows are to be inserted, see {@link sharptally.core.sql.Repetition}; empty where
 *     they always are
 */
public record ChangeSql(
        SqlDialect dialect, boolean guarded, boolean narrow, boolean reactsFreely, Optional<String> toDo) {
    /** Of more conditions, so many stand together in brackets. */
    static final int FIELDS_TOGETHER = 100;

    /** By which name rows that refer to others are told from those. */
    private static final String REFERRER = "tally_referrer";

    /** One statement, without an end mark, that touches exactly one row. */
    public SqlText statement(TableShape table, Change change) {
        if (change instanceof Change.Insert insert) {
            return insert(table, insert);
        }
        if (change instanceof Change.Update update) {
            return update(table, update);
        }
        if (change instanceof Change.Delete delete) {
            return delete(table, delete);
        }
        throw new IllegalStateException("no statement for " + change);
    }

    /** What must be so before the statement; empty where the database itself sees to it. */
    public Optional<Precondition> precondition(TableShape table, Change change) {
        if (change instanceof Change.Insert insert) {
            return insert.key().isEmpty() ? Optional.empty() : Optional.of(Precondition.row(false, held(insert.key())));
        }
        if (change instanceof Change.Update update) {
            String held = held(held(update));
            return Optional.of(mayMeetMany(table, update) ? Precondition.rows(held, 1) : Precondition.row(true, held));
        }
        return Optional.of(Precondition.row(true, held(held((Change.Delete) change)) + alone(table)));
    }

    /** That no rows refer to one that is deleted which the database would delete or change with it; behind a condition. */
    String alone(TableShape table) {
        return !guarded || reactsFreely
                ? ""
                : table.sideEffects().reactions().stream()
                        .map(r -> " AND NOT EXISTS (SELECT 1 FROM " + dialect.quote(r.table()) + " " + REFERRER
                                + " WHERE " + equal(table, r.columns(), r.referred())
                                // A row that refers to itself goes with itself.
                                + (r.table().equals(table.name())
                                        ? " AND NOT (" + equal(table, r.referred(), r.referred()) + ")"
                                        : "")
                                + ")")
                        .collect(Collectors.joining());
    }

    /** A query that counts the rows of another table that refer to rows which are to be deleted. */
    public String reached(TableShape table, Reaction reaction, List<Change.Delete> deletes) {
        String keys = deletes.stream()
                .map(d -> held(d.keyColumns() == 0 ? d.row() : d.row().subList(0, d.keyColumns())))
                .collect(Collectors.joining(") OR (", "(", ")"));
        return "SELECT COUNT(*) FROM " + dialect.quote(reaction.table()) + " " + REFERRER
                + " WHERE EXISTS (SELECT 1 FROM " + dialect.rowsOf(table) + " WHERE "
                + equal(table, reaction.columns(), reaction.referred()) + " AND (" + keys + "))";
    }

    private String equal(TableShape table, List<String> ofReferrer, List<String> ofTable) {
        return IntStream.range(0, ofReferrer.size())
                .mapToObj(i -> REFERRER + "." + dialect.quote(ofReferrer.get(i)) + " = " + dialect.quote(table.name())
                        + "." + dialect.quote(ofTable.get(i)))
                .collect(Collectors.joining(" AND "));
    }

    /** Columns that the database would give another value by itself keep theirs; behind what is set. */
    String kept(TableShape table, List<String> set, UnaryOperator<String> column) {
        return table.sideEffects().setOnUpdate().stream()
                .filter(name -> !set.contains(name))
                .map(name -> ", " + column.apply(name) + " = " + column.apply(name))
                .collect(Collectors.joining());
    }

    private static List<String> set(Change.Update update) {
        return update.after().stream().map(f -> f.column().name()).toList();
    }

    private String held(List<Field> fields) {
        var condition = new SqlText.Builder();
        hold(condition, fields);
        return condition.build().render(dialect::literal);
    }

    /** By what the row of an update is found. */
    private List<Field> held(Change.Update update) {
        return guarded
                ? Stream.of(update.key(), update.before(), others(update))
                        .flatMap(List::stream)
                        .toList()
                : update.key();
    }

    /** What must be as it was besides the key and what is changed. */
    List<Field> others(Change.Update update) {
        return guarded && !narrow ? update.others() : List.of();
    }

    /** By what the row of a delete is found. */
    private List<Field> held(Change.Delete delete) {
        return guarded || delete.keyColumns() == 0 || delete.oneOfMany()
                ? delete.row()
                : delete.row().subList(0, delete.keyColumns());
    }

    /** What changes must have in common to stand in one statement; empty for those that stand alone. */
    public Optional<List<String>> shape(TableShape table, Change change) {
        if (change instanceof Change.Insert insert) {
            return guarded && !insert.key().isEmpty() ? Optional.empty() : Optional.of(names("insert", insert.row()));
        }
        if (change instanceof Change.Update update) {
            boolean plain =
                    !mayMeetMany(table, update) && update.after().stream().allMatch(f -> dialect.canChoose(f.column()));
            return plain ? Optional.of(names("update", update.after())) : Optional.empty();
        }
        return mustGoAlone(dialect, table, (Change.Delete) change) ? Optional.empty() : Optional.of(List.of("delete"));
    }

    /**
     * Whether several rows may have the key of an update, as the database does not hold it unique. Then the rows of each
     * update are counted by themselves: two found by one must not stand for none found by another.
     */
    boolean mayMeetMany(TableShape table, Change.Update update) {
        return guarded
                && !table.holdsUnique(
                        update.key().stream().map(f -> f.column().name()).toList());
    }

    /** Whether a row must be deleted by itself: as one of many alike, or because the order of deletes matters. */
    static boolean mustGoAlone(SqlDialect dialect, TableShape table, Change.Delete delete) {
        boolean reacts =
                table.sideEffects().reactions().stream().anyMatch(r -> r.table().equals(table.name()));
        return delete.oneOfMany() || (dialect.checksEachRow() || reacts) && table.refersToItself();
    }

    private static List<String> names(String what, List<Field> fields) {
        return Stream.concat(
                        Stream.of(what), fields.stream().map(f -> f.column().name()))
                .toList();
    }

    /**
     * One statement, a row a line, without an end mark.
     *
     * @param changes of one {@link #shape}
     */
    public String together(TableShape table, List<Change> changes) {
        String rows = dialect.rowsOf(table);
        if (changes.get(0) instanceof Change.Insert first) {
            List<String> values = changes.stream()
                    .map(c -> ((Change.Insert) c)
                            .row().stream()
                                    .map(f -> dialect.literal(f.value(), f.column()))
                                    .collect(Collectors.joining(", ", "  (", ")")))
                    .toList();
            return dialect.insertRows(into(table, first), values);
        }
        if (changes.get(0) instanceof Change.Update) {
            return "UPDATE " + rows + " SET" + chosen(changes)
                    + kept(table, set((Change.Update) changes.get(0)), dialect::quote) + "\nWHERE " + anyOf(changes);
        }
        return "DELETE FROM " + rows + "\nWHERE " + anyOfAlone(table, changes);
    }

    /** What must be so before such a statement. */
    public Optional<Precondition> precondition(TableShape table, List<Change> changes) {
        return changes.get(0) instanceof Change.Insert
                ? Optional.empty()
                : Optional.of(Precondition.rows(
                        changes.get(0) instanceof Change.Update ? anyOf(changes) : anyOfAlone(table, changes),
                        changes.size()));
    }

    private String anyOfAlone(TableShape table, List<Change> changes) {
        String alone = alone(table);
        return alone.isEmpty() ? anyOf(changes) : "(" + anyOf(changes) + ")" + alone;
    }

    private String anyOf(List<Change> changes) {
        return changes.stream()
                .map(c -> held(c instanceof Change.Update update ? held(update) : held((Change.Delete) c)))
                .collect(Collectors.joining(")\n   OR (", "(", ")"));
    }

    /** For each column that is changed, its new value by the row's key. */
    private String chosen(List<Change> changes) {
        int columns = ((Change.Update) changes.get(0)).after().size();
        return IntStream.range(0, columns)
                .mapToObj(i -> {
                    ColumnShape column =
                            ((Change.Update) changes.get(0)).after().get(i).column();
                    if (changes.stream()
                            .allMatch(c -> ((Change.Update) c).after().get(i).value() instanceof Value.Null)) {
                        return "\n  " + dialect.quote(column.name()) + " = NULL";
                    }
                    String cases = changes.stream()
                            .map(c -> (Change.Update) c)
                            .map(u -> "\n    WHEN " + held(u.key()) + " THEN "
                                    + dialect.literal(u.after().get(i).value(), column))
                            .collect(Collectors.joining());
                    return "\n  " + dialect.quote(column.name()) + " = "
                            + dialect.chosen("CASE" + cases + " END", column);
                })
                .collect(Collectors.joining(","));
    }

    private SqlText insert(TableShape table, Change.Insert insert) {
        var sql = new SqlText.Builder().text(into(table, insert));
        boolean byKey = guarded && !insert.key().isEmpty();
        boolean always = !byKey && toDo.isEmpty();
        sql.text(always ? " VALUES (" : " SELECT ");
        separated(sql, insert.row(), ", ", f -> sql.value(f.value(), f.column()));
        if (always) {
            return sql.text(")").build();
        }
        sql.text(dialect.fromNothing()).text(" WHERE ").text(ifToDo());
        if (!byKey) {
            return sql.build();
        }
        sql.text(toDo.isPresent() ? " AND " : "")
                .text("NOT EXISTS (SELECT 1 FROM ")
                .text(dialect.rowsOf(table));
        where(sql, insert.key());
        return sql.text(")").build();
    }

    /** The condition that something is to be done; empty where that always is so. */
    String ifToDo() {
        return toDo.map(t -> t + " = 1").orElse("");
    }

    private String into(TableShape table, Change.Insert insert) {
        return insert.row().stream()
                .map(f -> dialect.quote(f.column().name()))
                .collect(Collectors.joining(
                        ", ",
                        "INSERT INTO " + dialect.quote(table.name()) + " (",
                        ")" + dialect.overridingIdentity(table)));
    }

    private SqlText update(TableShape table, Change.Update update) {
        var sql = new SqlText.Builder()
                .text("UPDATE ")
                .text(dialect.rowsOf(table))
                .text(" SET ");
        separated(
                sql,
                update.after(),
                ", ",
                f -> sql.text(dialect.quote(f.column().name()) + " = ").value(f.value(), f.column()));
        sql.text(kept(table, set(update), dialect::quote));
        where(sql, held(update));
        return sql.build();
    }

    private SqlText delete(TableShape table, Change.Delete delete) {
        if (delete.oneOfMany()) {
            var condition = new SqlText.Builder();
            hold(condition, held(delete));
            // Another row may be just like it, which would go when the script is run again.
            toDo.ifPresent(t -> condition.text(" AND ").text(ifToDo()));
            return dialect.deleteOne(table, condition.text(alone(table)).build());
        }
        var sql = new SqlText.Builder().text("DELETE FROM ").text(dialect.rowsOf(table));
        where(sql, held(delete));
        return sql.text(alone(table)).build();
    }

    private void where(SqlText.Builder sql, List<Field> fields) {
        sql.text(" WHERE ");
        hold(sql, fields);
    }

    private void hold(SqlText.Builder sql, List<Field> fields) {
        hold(dialect, sql, fields);
    }

    /** That all fields hold; in parts where they are many, as an engine may not take a condition that is nested too deep. */
    static void hold(SqlDialect dialect, SqlText.Builder sql, List<Field> fields) {
        if (fields.size() <= FIELDS_TOGETHER) {
            separated(sql, fields, " AND ", f -> dialect.appendHolds(sql, f.column(), f.value()));
            return;
        }
        for (int from = 0; from < fields.size(); from += FIELDS_TOGETHER) {
            sql.text(from == 0 ? "(" : " AND (");
            hold(dialect, sql, fields.subList(from, Math.min(fields.size(), from + FIELDS_TOGETHER)));
            sql.text(")");
        }
    }

    private static void separated(
            SqlText.Builder sql, List<Field> fields, String separator, java.util.function.Consumer<Field> append) {
        boolean first = true;
        for (Field field : fields) {
            if (!first) {
                sql.text(separator);
            }
            first = false;
            append.accept(field);
        }
    }
}
