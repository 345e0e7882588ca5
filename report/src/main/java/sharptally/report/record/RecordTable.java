package sharptally.report.record;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.sql.SqlText;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** The tables into which runs are recorded, in types that every engine has; {@code docs/record.md} describes them. */
public enum RecordTable {
    /** A row per run. */
    TALLY_RUN("run_id text, run_name text, started_at timestamp, seconds double, tool_version text, state text,"
            + " exit_code integer, run_by text, job_file text, narrowed text, source_database text, source_version text,"
            + " target_database text, target_version text, matches integer, same_rows integer,"
            + " changed_rows integer, missing_rows integer, extra_rows integer, repeated_keys integer,"
            + " figures_differing integer"),
    /** A row per match whose rows were compared. */
    TALLY_MATCH("run_id text, started_at timestamp, match_name text, source_table text, target_table text, state text,"
            + " narrowed text, method text, seconds double, source_rows integer, target_rows integer, same_rows integer,"
            + " changed_rows integer, missing_rows integer, extra_rows integer, repeated_keys integer,"
            + " exit_code integer, failure text"),
    /** A row per column that differs, or that a rule held the same. */
    TALLY_COLUMN("run_id text, started_at timestamp, match_name text, column_name text, differing_rows integer,"
            + " same_by_rule_rows integer, rules text"),
    /** A row per figure that was kept of the totals. */
    TALLY_TOTAL("run_id text, started_at timestamp, match_name text, group_name text, figure text, source_value text,"
            + " target_value text, source_number double, target_number double, held integer"),
    /** A row per expectation. */
    TALLY_CHECK(
            "run_id text, started_at timestamp, side text, table_name text, expected text, found text, held integer");

    private static final int MAX_LETTERS = 400;

    private final List<ColumnShape> columns;

    RecordTable(String columns) {
        this.columns =
                Arrays.stream(columns.split(",")).map(RecordTable::column).toList();
    }

    private static ColumnShape column(String nameAndType) {
        String[] parts = nameAndType.strip().split(" ");
        Kind kind = Kind.valueOf(parts[1].toUpperCase(java.util.Locale.ROOT));
        String declared = switch (kind) {
            case TEXT -> "VARCHAR(" + MAX_LETTERS + ")";
            case INTEGER -> "BIGINT";
            case DOUBLE -> "DOUBLE PRECISION";
            default -> "TIMESTAMP";
        };
        return new ColumnShape(
                parts[0],
                declared,
                Optional.of(CanonicalType.of(kind)),
                true,
                Generation.NONE,
                // So that an engine in which text has no one order treats it as any text of a table.
                kind == Kind.TEXT ? Optional.of("utf8mb4") : Optional.empty());
    }

    /** The table's name, in lower case. */
    public String tableName() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }

    /** The statement that makes the table; names stand without quotes, as each engine folds them. */
    public SqlText creation() {
        return text("CREATE TABLE " + tableName() + " ("
                + columns.stream().map(c -> c.name() + " " + c.declaredType()).collect(Collectors.joining(", ")) + ")");
    }

    private static SqlText text(String sql) {
        return new SqlText.Builder().text(sql).build();
    }

    /** The statement that takes the rows of one recording away. */
    public SqlText removal(String id) {
        return new SqlText.Builder()
                .text("DELETE FROM " + tableName() + " WHERE run_id = ")
                .value(new Value.Text(id), columns.get(0))
                .build();
    }

    /** The statement that adds a row: a text, number, time, or NULL (an empty optional) per column. */
    SqlText insertion(List<?> values) {
        if (values.size() != columns.size()) {
            throw new IllegalStateException(values.size() + " values for " + columns.size() + " columns of " + this);
        }
        var sql = new SqlText.Builder()
                .text("INSERT INTO " + tableName() + " ("
                        + columns.stream().map(ColumnShape::name).collect(Collectors.joining(", ")) + ") VALUES (");
        for (int i = 0; i < values.size(); i++) {
            sql.text(i == 0 ? "" : ", ").value(value(values.get(i)), columns.get(i));
        }
        return sql.text(")").build();
    }

    private static Value value(Object of) {
        if (of instanceof Optional<?> maybe) {
            return maybe.isPresent() ? value(maybe.get()) : Value.NULL;
        } else if (of instanceof Number number && !(of instanceof Double)) {
            return new Value.Int(number.longValue());
        } else if (of instanceof Double number) {
            return new Value.Double(number);
        } else if (of instanceof java.time.LocalDateTime time) {
            return new Value.Timestamp(time);
        }
        String text = of.toString();
        return new Value.Text(
                text.codePointCount(0, text.length()) <= MAX_LETTERS
                        ? text
                        : text.substring(0, text.offsetByCodePoints(0, MAX_LETTERS - 1)) + "…");
    }
}
