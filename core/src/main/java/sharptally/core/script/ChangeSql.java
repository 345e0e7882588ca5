package sharptally.core.script;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.sql.SqlDialect.Precondition;
import sharptally.core.sql.SqlText;

/** Writes changes as guarded statements of one engine. Immutable. */
public record ChangeSql(SqlDialect dialect) {
    /** One statement, without an end mark, that touches exactly one row while that still holds what it held. */
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
    public Optional<Precondition> precondition(Change change) {
        if (change instanceof Change.Insert insert) {
            return insert.key().isEmpty() ? Optional.empty() : Optional.of(condition(false, insert.key()));
        }
        if (change instanceof Change.Update update) {
            return Optional.of(condition(
                    true,
                    Stream.concat(update.key().stream(), update.before().stream())
                            .toList()));
        }
        return Optional.of(condition(true, ((Change.Delete) change).row()));
    }

    private Precondition condition(boolean exists, List<Field> fields) {
        var condition = new SqlText.Builder();
        separated(condition, fields, " AND ", f -> dialect.appendHolds(condition, f.column(), f.value()));
        return new Precondition(exists, condition.build().render(dialect::literal));
    }

    private SqlText insert(TableShape table, Change.Insert insert) {
        var sql = new SqlText.Builder()
                .text("INSERT INTO ")
                .text(dialect.quote(table.name()))
                .text(insert.row().stream()
                        .map(f -> dialect.quote(f.column().name()))
                        .collect(Collectors.joining(", ", " (", ")")))
                .text(dialect.overridingIdentity(table));
        boolean guarded = !insert.key().isEmpty();
        sql.text(guarded ? " SELECT " : " VALUES (");
        separated(sql, insert.row(), ", ", f -> sql.value(f.value(), f.column()));
        if (!guarded) {
            return sql.text(")").build();
        }
        sql.text(" WHERE NOT EXISTS (SELECT 1 FROM ").text(dialect.quote(table.name()));
        where(sql, insert.key());
        return sql.text(")").build();
    }

    private SqlText update(TableShape table, Change.Update update) {
        var sql = new SqlText.Builder()
                .text("UPDATE ")
                .text(dialect.quote(table.name()))
                .text(" SET ");
        separated(
                sql,
                update.after(),
                ", ",
                f -> sql.text(dialect.quote(f.column().name()) + " = ").value(f.value(), f.column()));
        where(sql, update.key());
        sql.text(" AND ");
        separated(sql, update.before(), " AND ", f -> dialect.appendHolds(sql, f.column(), f.value()));
        return sql.build();
    }

    private SqlText delete(TableShape table, Change.Delete delete) {
        if (delete.oneOfMany()) {
            var condition = new SqlText.Builder();
            separated(condition, delete.row(), " AND ", f -> dialect.appendHolds(condition, f.column(), f.value()));
            return dialect.deleteOne(table, condition.build());
        }
        var sql = new SqlText.Builder().text("DELETE FROM ").text(dialect.quote(table.name()));
        where(sql, delete.row());
        return sql.build();
    }

    private void where(SqlText.Builder sql, List<Field> fields) {
        sql.text(" WHERE ");
        separated(sql, fields, " AND ", f -> dialect.appendHolds(sql, f.column(), f.value()));
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
