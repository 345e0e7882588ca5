package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** What a place holds, as lines for a terminal. */
public final class SurveyText {
    private static final int MAX_DECLARED = 44;

    /**
     * One table as it was found.
     *
     * @param exact whether the rows were counted, not estimated
     * @param problem why it can't be read, if so
     */
    public record Surveyed(TableShape table, Estimate size, boolean exact, Optional<String> problem) {}

    /**
     * A table for programs.
     *
     * @param name with its schema where that is not the one whose tables go by their bare names
     * @param rows empty where nobody knows; an estimate unless {@code exact}
     * @param keys columns of the primary key, then of unique ones
     */
    public record Told(
            String name,
            boolean view,
            Optional<Long> rows,
            boolean exact,
            Optional<Long> bytes,
            List<ToldColumn> columns,
            List<List<String>> keys,
            Optional<String> problem) {
        /** Of a table that was described alone. */
        public static Told of(TableShape table) {
            return of(new Surveyed(
                    table, new Estimate(OptionalLong.empty(), OptionalLong.empty()), false, Optional.empty()));
        }

        public static Told of(Surveyed surveyed) {
            TableShape table = surveyed.table();
            return new Told(
                    table.name().toString(),
                    table.view(),
                    boxed(surveyed.size().rows()),
                    surveyed.exact(),
                    boxed(surveyed.size().bytes()),
                    table.columns().stream().map(ToldColumn::of).toList(),
                    table.keys().stream().map(KeyShape::columns).toList(),
                    surveyed.problem());
        }

        private static Optional<Long> boxed(OptionalLong number) {
            return number.isPresent() ? Optional.of(number.getAsLong()) : Optional.empty();
        }
    }

    /**
     * A column for programs.
     *
     * @param type as it is declared
     * @param comparedAs what its values are compared as; empty where they can't be compared faithfully
     * @param generated who gives it its values, where that is not whoever writes the row
     */
    public record ToldColumn(
            String name, String type, Optional<String> comparedAs, boolean nullable, Optional<String> generated) {
        static ToldColumn of(ColumnShape column) {
            return new ToldColumn(
                    column.name(),
                    column.declaredType(),
                    column.type().map(t -> t.kind().name().toLowerCase(Locale.ROOT)),
                    column.nullable(),
                    Optional.of(column.generation())
                            .filter(g -> g != Generation.NONE)
                            .map(g -> g.name().toLowerCase(Locale.ROOT)));
        }
    }

    private static final int MADE_BY = 5;
    private static final int COLLATION = 6;

    private SurveyText() {}

    /** The place itself, and all its tables, one a line. */
    public static List<String> tables(
            String place, String product, Map<String, String> facts, List<Surveyed> tables, Style style, int width) {
        List<String> lines = new ArrayList<>();
        TextTable head = new TextTable(Align.LEFT, Align.LEFT);
        head.row(List.of(new Cell("database", Meaning.HEADING), Cell.of(place)));
        head.row(List.of(new Cell("product", Meaning.HEADING), Cell.of(product)));
        facts.forEach((name, value) ->
                head.row(List.of(new Cell(name, Meaning.HEADING), Cell.of(TextWidth.harmless(value)))));
        lines.addAll(head.lines(style));
        lines.add("");
        TextTable text = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.LEFT, Align.LEFT);
        text.heading("table", "rows", "size", "columns", "key", "notes");
        for (Surveyed surveyed : tables) {
            TableShape table = surveyed.table();
            boolean known = surveyed.size().rows().isPresent();
            String rows = known ? Figures.count(surveyed.size().rows().getAsLong()) : "?";
            text.row(List.of(
                    Cell.of(TextWidth.harmless(table.name().toString())),
                    Cell.of(known && !surveyed.exact() ? "~" + rows : rows),
                    Cell.of(
                            surveyed.size().bytes().isPresent()
                                    ? Figures.bytes(surveyed.size().bytes().getAsLong())
                                    : ""),
                    Cell.of(Figures.count(table.columns().size())),
                    Cell.of(TextWidth.harmless(key(table))),
                    new Cell(TextWidth.harmless(notes(surveyed)), Meaning.QUIET)));
        }
        lines.addAll(text.lines(style, width));
        return lines;
    }

    private static String key(TableShape table) {
        return table.keys().stream()
                .findFirst()
                .map(k -> String.join(", ", k.columns()) + (k.primary() ? "" : " (unique)"))
                .orElse("none");
    }

    private static String notes(Surveyed surveyed) {
        TableShape table = surveyed.table();
        List<String> notes = new ArrayList<>();
        surveyed.problem().ifPresent(p -> notes.add("CAN'T BE READ: " + p));
        if (table.view()) {
            notes.add("view");
        }
        if (table.keys().isEmpty()) {
            notes.add("no key: whole rows are counted");
        }
        if (table.hasTriggers()) {
            notes.add("has triggers");
        }
        List<String> unclear = table.columns().stream()
                .filter(c -> c.type().isEmpty())
                .map(c -> c.name() + " (" + c.declaredType() + ")")
                .toList();
        if (!unclear.isEmpty()) {
            notes.add("can't be compared (no form that tells all their values apart): " + String.join(", ", unclear));
        }
        return String.join("; ", notes);
    }

    /** The columns of one table, one a line. */
    public static List<String> columns(TableShape table, Style style, int width) {
        TextTable text =
                new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        text.heading("column", "declared type", "compared as", "null", "key", "made by", "collation");
        for (ColumnShape column : table.columns()) {
            text.row(List.of(
                    Cell.of(TextWidth.harmless(column.name())),
                    Cell.of(TextWidth.harmless(column.declaredType())),
                    Cell.of(column.type().map(Object::toString).orElse("can't be compared")),
                    Cell.of(column.nullable() ? "yes" : "no"),
                    Cell.of(keys(table, column)),
                    Cell.of(madeBy(column.generation())),
                    Cell.of(column.collation().orElse(""))));
        }
        return text.lines(style, width, COLLATION, MADE_BY);
    }

    private static String keys(TableShape table, ColumnShape column) {
        return table.keys().stream()
                .filter(k -> k.columns().contains(column.name()))
                .map((KeyShape k) -> k.primary() ? "primary" : "unique")
                .distinct()
                .collect(Collectors.joining(", "));
    }

    private static String madeBy(Generation generation) {
        return switch (generation) {
            case NONE -> "";
            case IDENTITY, IDENTITY_ALWAYS -> "identity";
            case COMPUTED -> "expression";
        };
    }

    /**
     * What two databases declare otherwise, side by side, and a line of nothing; no line where there is nothing.
     *
     * @param width of the terminal
     */
    public static List<String> declared(List<RunSummary.DeclaredOtherwise> all, Style style, int width) {
        if (all.isEmpty()) {
            return List.of();
        }
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("table", "declared", "source", "target", "what it means");
        for (RunSummary.DeclaredOtherwise one : all) {
            table.row(List.of(
                    Cell.of(TextWidth.harmless(one.table())),
                    Cell.of(TextWidth.harmless(one.what())),
                    declared(one.source()),
                    declared(one.target()),
                    new Cell(one.meaning(), Meaning.QUIET)));
        }
        List<String> lines = new ArrayList<>(table.lines(style, width));
        lines.add("");
        return lines;
    }

    private static Cell declared(String text) {
        return text.isEmpty()
                ? new Cell("-", Meaning.QUIET)
                : Cell.of(TextWidth.cut(TextWidth.harmless(text.replaceAll("\\s+", " ")), MAX_DECLARED));
    }
}
