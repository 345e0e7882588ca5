package sharptally.core.structure;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.match.JobPlan;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * Statements that make the tables and columns that a target lacks: a proposal, for somebody to read. Types are those that hold
 * every value of the source's; what can't be said in the target's words stands as a comment.
 *
 * @param dialect of the target
 * @param sameEngine whether the source's types are the target's as well
 * @param loose whether a column of the source holds more than its type says, as in SQLite
 */
public record TableDdl(SqlDialect dialect, boolean sameEngine, boolean loose) {
    private static final Pattern SIZES = Pattern.compile("\\((\\d+)(?:\\s*,\\s*(\\d+))?\\)");
    private static final int MAX_SHORT = 9;

    /**
     * @param described the source's tables by name
     */
    public List<String> of(JobPlan plan, Function<String, TableShape> described) {
        List<String> statements = new ArrayList<>();
        plan.lone().stream()
                .filter(table -> table.side() == Side.SOURCE)
                .forEach(table ->
                        statements.add(table(described.apply(table.name().toString()))));
        for (TableMatch match : plan.matches()) {
            for (ShapeDifference.OnOneSide lone : match.lone()) {
                if (lone.side() == Side.SOURCE) {
                    match.source()
                            .column(lone.column())
                            .ifPresent(column -> statements.add("ALTER TABLE "
                                    + dialect.quote(match.target().name()) + " ADD COLUMN " + column(column, false)
                                    + ";"));
                }
            }
        }
        return statements;
    }

    private String table(TableShape table) {
        if (table.view()) {
            return "-- CHECK view " + table.name() + ": its query is the source's own";
        }
        List<String> key =
                table.keys().stream().flatMap(k -> k.columns().stream()).toList();
        List<String> lines = new ArrayList<>(table.columns().stream()
                .map(c -> "  " + column(c, key.contains(c.name())))
                .toList());
        table.keys().stream()
                .map(k -> "  " + (k.primary() ? "PRIMARY KEY" : "UNIQUE") + " ("
                        + k.columns().stream().map(dialect::quote).collect(Collectors.joining(", ")) + ")")
                .forEach(lines::add);
        List<String> references = table.foreignKeys().stream()
                .map(k -> "\n-- CHECK " + String.join(", ", k.columns()) + " refers to "
                        + k.parent().name() + " (" + String.join(", ", k.parentColumns()) + ")")
                .toList();
        return "CREATE TABLE " + dialect.quote(table.name().name()) + " (\n" + String.join(",\n", lines) + "\n);"
                + String.join("", references);
    }

    private String column(ColumnShape column, boolean ofKey) {
        String type = sameEngine ? column.declaredType() : type(column, ofKey);
        String generated = switch (column.generation()) {
            case COMPUTED -> " /* CHECK computed in the source */";
            case IDENTITY, IDENTITY_ALWAYS -> " /* CHECK numbered by the source */";
            default -> "";
        };
        boolean needed = !column.nullable() && column.generation() != Generation.COMPUTED;
        return dialect.quote(column.name())
                + (type.isEmpty() ? "" : " " + type)
                + (needed ? " NOT NULL" : "")
                + generated;
    }

    private String type(ColumnShape column, boolean ofKey) {
        Optional<CanonicalType> type = column.type();
        if (type.isEmpty()) {
            return dialect.typeName(Kind.TEXT, 0, 0) + " /* CHECK " + column.declaredType() + " */";
        }
        Matcher sizes = SIZES.matcher(column.declaredType());
        boolean sized = sizes.find();
        int size = sized && sizes.group(1).length() <= MAX_SHORT ? Integer.parseInt(sizes.group(1)) : 0;
        int scale = sized && sizes.group(2) != null ? Integer.parseInt(sizes.group(2)) : 0;
        Kind kind = type.get().kind();
        return switch (kind) {
            case INTEGER -> whole(loose ? Long.BYTES : bytes(column.declaredType()));
            case TEXT, ANY -> text(ofKey, loose ? 0 : size);
            case DECIMAL -> dialect.typeName(Kind.DECIMAL, loose ? 0 : size, loose ? 0 : scale);
            case TIME, TIMESTAMP, INSTANT ->
                dialect.typeName(kind, Math.min(6, type.get().digits()), 0);
            case OTHER, BITS -> dialect.typeName(Kind.TEXT, 0, 0) + " /* CHECK " + column.declaredType() + " */";
            default -> dialect.typeName(kind, size, 0);
        };
    }

    private String whole(int bytes) {
        return bytes > Long.BYTES
                ? dialect.typeName(Kind.DECIMAL, UNSIGNED_DIGITS, 0)
                : dialect.typeName(Kind.INTEGER, bytes, 0);
    }

    /** Where texts of any length can't be a key, a length that can is said. */
    private String text(boolean ofKey, int size) {
        return size == 0 && ofKey
                ? dialect.typeName(Kind.TEXT, KEY_LENGTH, 0) + " /* CHECK length */"
                : dialect.typeName(Kind.TEXT, size, 0);
    }

    private static final int KEY_LENGTH = 190;
    private static final int UNSIGNED_DIGITS = 20;

    private static final Map<String, Integer> WIDTHS =
            Map.of("tinyint", 2, "smallint", 2, "int2", 2, "mediumint", 4, "integer", 4, "int", 4, "int4", 4);

    /** How many bytes its numbers take; 8 where that is not told. */
    private static int bytes(String declared) {
        String word =
                declared.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9 ].*", "").strip();
        boolean wider =
                word.contains("unsigned") || declared.toLowerCase(Locale.ROOT).contains("unsigned");
        int width = WIDTHS.getOrDefault(word.split(" ")[0], 8);
        return wider ? width * 2 : width;
    }
}
