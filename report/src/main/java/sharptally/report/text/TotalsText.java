package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.place.Side;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsLine;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** Totals and expectations as lines for a terminal: one line per table, then the figures that differ. */
public final class TotalsText {
    private static final int MAX_LINES = 60;
    private static final int MAX_GROUP_WIDTH = 40;
    private static final int MAX_FIGURE_WIDTH = 40;
    private static final int LEAST_FIGURE_WIDTH = 16;

    private final RunSummary run;
    private final Style style;
    private final int figureWidth;
    private final boolean allFigures;
    private final List<String> lines = new ArrayList<>();

    private TotalsText(RunSummary run, Style style, int width, boolean allFigures) {
        this.run = run;
        this.style = style;
        this.figureWidth = Math.max(LEAST_FIGURE_WIDTH, Math.min(MAX_FIGURE_WIDTH, width / 4 - 3));
        this.allFigures = allFigures;
    }

    /**
     * Empty when the run has neither totals nor expectations.
     *
     * @param width of the screen
     * @param allFigures whether figures that are the same are listed too
     */
    public static List<String> lines(RunSummary run, Style style, int width, boolean allFigures) {
        TotalsText text = new TotalsText(run, style, width, allFigures);
        if (!run.totals().isEmpty()) {
            text.overview();
            run.totals().forEach(text::figures);
        }
        if (!run.checks().isEmpty()) {
            text.checks();
        }
        return List.copyOf(text.lines);
    }

    /** Whether totals and expectations hold, in one line. */
    public static String verdict(RunSummary run, Style style) {
        long figures = run.totals().stream().mapToLong(TotalsResult::figures).sum();
        long broken = run.totals().stream().mapToLong(TotalsResult::differing).sum();
        long checks = run.checks().size();
        long failed = run.checks().stream().filter(c -> !c.held()).count();
        List<String> parts = new ArrayList<>();
        if (figures > 0) {
            parts.add(
                    broken == 0
                            ? figures == 1
                                    ? "the one figure is the same"
                                    : "all " + Figures.count(figures, "figure") + " are the same"
                            : Figures.count(broken) + " of " + Figures.count(figures, "figure")
                                    + (broken == 1 ? " differs" : " differ"));
        }
        if (checks > 0) {
            parts.add(
                    failed == 0
                            ? Figures.count(checks, "expectation") + " held"
                            : Figures.count(failed) + " of " + Figures.count(checks, "expectation") + " not held");
        }
        long lone =
                run.loneTables(Side.SOURCE).size() + run.loneTables(Side.TARGET).size();
        if (lone > 0) {
            parts.add(Figures.count(lone, "table") + " on one side only");
        }
        boolean good = broken == 0 && failed == 0 && lone == 0;
        List<String> asides = new ArrayList<>();
        if (good && figures > 0 && run.matches().isEmpty()) {
            asides.add("rows were not compared");
        }
        if (!run.narrowed().isEmpty()) {
            asides.add("not all rows were asked for: " + TextWidth.harmless(String.join("; ", run.narrowed())));
        }
        return style.paint(good ? "totals agree" : "totals differ", good ? Meaning.GOOD : Meaning.CHANGED) + ": "
                + String.join("; ", parts) + (asides.isEmpty() ? "" : " (" + String.join("; ", asides) + ")");
    }

    private void overview() {
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.RIGHT);
        table.heading("table", "source rows", "target rows", "groups", "figures", "differ");
        for (TotalsResult totals : run.totals()) {
            table.row(List.of(
                    Cell.of(TextWidth.harmless(
                            totals.match().equalsIgnoreCase(totals.target())
                                    ? totals.match()
                                    : totals.match() + " > " + totals.target())),
                    Cell.of(rows(totals, true)),
                    Cell.of(rows(totals, false)),
                    Cell.of(totals.by().isEmpty() ? "-" : Figures.count(totals.groups())),
                    Cell.of(Figures.count(totals.figures())),
                    totals.differing() == 0
                            ? new Cell("0", Meaning.GOOD)
                            : new Cell(Figures.count(totals.differing()), Meaning.CHANGED)));
        }
        lines.addAll(table.lines(style));
        lines.add("");
    }

    /** The number of rows, where it was worked out for the whole table. */
    private static String rows(TotalsResult totals, boolean source) {
        return totals.lines().stream()
                .filter(l -> l.figure().equals("rows") && l.group().isEmpty())
                .findFirst()
                .flatMap(l -> source ? l.source() : l.target())
                .map(n -> Figures.count(Long.parseLong(n)))
                .orElse("-");
    }

    private void figures(TotalsResult totals) {
        List<TotalsLine> shown =
                totals.lines().stream().filter(l -> allFigures || !l.held()).toList();
        if (shown.isEmpty() && totals.leftOut().isEmpty()) {
            return;
        }
        boolean grouped = !totals.by().isEmpty();
        if (!shown.isEmpty()) {
            List<Align> aligns = new ArrayList<>(List.of(Align.LEFT));
            List<String> heading = new ArrayList<>(List.of(TextWidth.harmless(totals.match())));
            if (grouped) {
                aligns.add(Align.LEFT);
                heading.add(String.join(", ", totals.by()));
            }
            aligns.addAll(List.of(Align.RIGHT, Align.RIGHT, Align.RIGHT));
            heading.addAll(List.of("source", "target", "difference"));
            TextTable table = new TextTable(aligns.toArray(new Align[0]));
            table.heading(heading.toArray(new String[0]));
            shown.stream().limit(MAX_LINES).forEach(line -> table.row(row(line, grouped)));
            lines.addAll(table.lines(style));
            if (shown.size() > MAX_LINES) {
                lines.add("and " + Figures.count(shown.size() - MAX_LINES, "more figure") + ", all in run.json");
            }
        }
        totals.leftOut().stream()
                .limit(8)
                .forEach(l -> lines.add(style.paint("left out: " + TextWidth.harmless(l), Meaning.QUIET)));
        if (totals.leftOut().size() > 8) {
            lines.add(style.paint("and " + (totals.leftOut().size() - 8) + " more left out", Meaning.QUIET));
        }
        lines.add("");
    }

    private List<Cell> row(TotalsLine line, boolean grouped) {
        List<Cell> cells = new ArrayList<>();
        cells.add(Cell.of(TextWidth.cut(TextWidth.harmless(line.figure()), MAX_FIGURE_WIDTH)));
        if (grouped) {
            String group = TextWidth.harmless(String.join(", ", line.group()));
            cells.add(Cell.of(TextWidth.cut(group, MAX_GROUP_WIDTH)));
        }
        cells.add(Cell.of(figure(line.source())));
        cells.add(Cell.of(figure(line.target())));
        cells.add(
                line.held()
                        ? new Cell("same", Meaning.QUIET)
                        : new Cell(
                                TextWidth.cut(
                                        line.difference()
                                                .map(TotalsText::signed)
                                                .orElse(alone(line)),
                                        figureWidth),
                                Meaning.CHANGED));
        return cells;
    }

    private String figure(java.util.Optional<String> figure) {
        return figure.map(f -> TextWidth.cut(TextWidth.harmless(f), figureWidth))
                .orElse("-");
    }

    private static String alone(TotalsLine line) {
        return line.source().isEmpty() ? "target only" : line.target().isEmpty() ? "source only" : "differs";
    }

    private static String signed(String difference) {
        return difference.startsWith("-") ? difference : "+" + difference;
    }

    private void checks() {
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.RIGHT);
        table.heading("", "table", "expected", "found");
        for (CheckResult check : run.checks()) {
            table.row(List.of(
                    check.held() ? new Cell("held", Meaning.GOOD) : new Cell("not held", Meaning.CHANGED),
                    Cell.of(TextWidth.harmless(check.table()) + (check.side().equals("source") ? " (source)" : "")),
                    Cell.of(TextWidth.harmless(check.expected())),
                    Cell.of(check.found().map(TextWidth::harmless).orElse("-"))));
        }
        lines.addAll(table.lines(style));
        lines.add("");
    }
}
