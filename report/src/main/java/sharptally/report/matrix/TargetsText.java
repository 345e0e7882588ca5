package sharptally.report.matrix;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;
import sharptally.report.text.VerdictText;

/** A matrix: a line for each table, a column for each target, and below it what was proved of each. */
public final class TargetsText {
    private static final int MAX_HEADING = 28;

    /** What became of one target; one without a run failed before there was one. */
    public record Column(String target, Optional<RunSummary> run) {
        private int exitCode() {
            return run.map(RunSummary::exitCode).orElse(Integer.MAX_VALUE);
        }
    }

    private final List<Column> all;
    private final Style style;
    private final int width;
    private final boolean every;

    private TargetsText(List<Column> all, Style style, int width, boolean every) {
        this.all = all;
        this.style = style;
        this.width = width;
        this.every = every;
    }

    /**
     * @param width of the screen; a matrix that is wider goes on below
     * @param every whether tables that are the same everywhere are listed one by one
     */
    public static List<String> lines(List<Column> all, Style style, int width, boolean every) {
        return new TargetsText(all, style, width, every).lines();
    }

    /** How a table, or a run, compares with one target, in a few words. */
    private static Cell cell(Column column, String table) {
        if (column.run().isEmpty()) {
            return new Cell("-", Meaning.QUIET);
        }
        RunSummary run = column.run().get();
        Optional<MatchSummary> match =
                run.matches().stream().filter(m -> m.name().equals(table)).findFirst();
        if (match.isPresent()) {
            return of(match.get());
        }
        return run.lone().stream()
                .filter(lone -> lone.table().equals(table))
                .findFirst()
                .map(lone -> lone.untold().isPresent()
                        ? new Cell("can't be told", Meaning.CHANGED)
                        : new Cell(
                                lone.side() == sharptally.core.place.Side.SOURCE ? "missing table" : "extra table",
                                Meaning.CHANGED))
                .orElseGet(() -> new Cell(run.leftOut().contains(table) ? "left out" : "-", Meaning.QUIET));
    }

    private static Cell of(MatchSummary match) {
        String word = VerdictText.word(match);
        if (match.exitCode() > 1) {
            return new Cell(word, Meaning.CHANGED);
        }
        List<String> parts = new ArrayList<>();
        add(parts, match.changed(), "changed");
        add(parts, match.missing(), "missing");
        add(parts, match.extra(), "extra");
        if (match.repeated() > 0) {
            parts.add(Figures.count(match.repeated(), "repeated key"));
        }
        String figures = String.join(", ", parts);
        if (match.exitCode() == 1) {
            return new Cell(figures.isEmpty() ? word : figures, Meaning.CHANGED);
        }
        return new Cell(word + (figures.isEmpty() ? "" : " (" + figures + ")"), Meaning.GOOD);
    }

    private static void add(List<String> parts, long number, String what) {
        if (number > 0) {
            parts.add(Figures.count(number) + " " + what);
        }
    }

    private static Cell verdict(Column column) {
        return switch (column.exitCode()) {
            case 0 -> new Cell(column.run().orElseThrow().differences() > 0 ? "accepted" : "same", Meaning.GOOD);
            case 1 -> new Cell("different", Meaning.CHANGED);
            default -> new Cell(column.run().isPresent() ? "not proved" : "not compared", Meaning.CHANGED);
        };
    }

    private List<String> lines() {
        List<String> lines = new ArrayList<>();
        for (int from = 0; from < all.size(); ) {
            int to = all.size();
            TextTable table = table(from, to);
            while (to > from + 1 && !table.fits(width)) {
                to--;
                table = table(from, to);
            }
            lines.addAll(table.lines(style));
            lines.add("");
            from = to;
        }
        return lines;
    }

    private Set<String> tables() {
        Set<String> names = new LinkedHashSet<>();
        all.forEach(column -> column.run().ifPresent(run -> run.matches().forEach(m -> names.add(m.name()))));
        all.forEach(column -> column.run().ifPresent(run -> run.lone().forEach(lone -> names.add(lone.table()))));
        return names;
    }

    private boolean isSameEverywhere(String table) {
        return all.stream()
                .filter(column -> column.run().isPresent())
                .allMatch(column -> cell(column, table).text().equals("same"));
    }

    private TextTable table(int from, int to) {
        List<Column> some = all.subList(from, to);
        TextTable table =
                new TextTable(Collections.nCopies(some.size() + 1, Align.LEFT).toArray(Align[]::new));
        List<String> heading = new ArrayList<>(List.of("table"));
        IntStream.range(0, some.size())
                .forEach(i -> heading.add((from + i + 1) + " "
                        + TextWidth.cut(TextWidth.harmless(some.get(i).target()), MAX_HEADING)));
        table.heading(heading.toArray(String[]::new));
        long same = 0;
        for (String name : tables()) {
            if (!every && isSameEverywhere(name)) {
                same++;
            } else {
                table.row(row(TextWidth.harmless(name), some, column -> cell(column, name)));
            }
        }
        if (same > 0) {
            table.row(row(
                    Figures.count(same, same < tables().size() ? "other table" : "table"),
                    some,
                    column ->
                            column.run().isPresent() ? new Cell("same", Meaning.GOOD) : new Cell("-", Meaning.QUIET)));
        }
        return table.row(row("all", some, TargetsText::verdict));
    }

    private static List<Cell> row(String name, List<Column> some, java.util.function.Function<Column, Cell> what) {
        List<Cell> row = new ArrayList<>(List.of(Cell.of(name)));
        some.forEach(column -> row.add(what.apply(column)));
        return row;
    }
}
