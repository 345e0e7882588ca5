package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.ToLongFunction;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** Runs of one job, one a line, and how their differences moved. */
public final class HistoryText {
    private static final String MARKS = "▁▂▃▄▅▆▇█";

    private static final int STAYED = 7;
    private static final int TIME = 9;

    private HistoryText() {}

    /**
     * What became of findings from one run to the next.
     *
     * @param appeared those that the earlier run had not
     * @param gone those that the later run has not
     * @param stayed those that both have
     */
    public record Moved(long appeared, long gone, long stayed) {}

    /**
     * A run and what is new in it.
     *
     * @param run as the comparison left it
     * @param moved since the run before; empty for the first one, and where one of both was not completed
     * @param left differences that were left when its rows were last looked at again; empty where they never were
     */
    public record Line(RunSummary run, Optional<Moved> moved, OptionalLong left) {}

    /**
     * @param runs in the order in which they began
     * @param width of the screen
     */
    public static List<String> lines(List<Line> runs, Style style, int width) {
        TextTable table = new TextTable(
                Align.LEFT,
                Align.LEFT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT,
                Align.RIGHT);
        table.heading("run", "verdict", "changed", "missing", "extra", "new", "gone", "stayed", "left", "time");
        for (Line line : runs) {
            RunSummary run = line.run();
            table.row(List.of(
                    Cell.of(run.run()),
                    verdict(run),
                    count(sum(run, MatchSummary::changed), Meaning.CHANGED),
                    count(sum(run, MatchSummary::missing), Meaning.MISSING),
                    count(sum(run, MatchSummary::extra), Meaning.EXTRA),
                    moved(line, Moved::appeared),
                    moved(line, Moved::gone),
                    moved(line, Moved::stayed),
                    line.left().isPresent()
                            ? count(line.left().getAsLong(), Meaning.NONE)
                            : new Cell("-", Meaning.QUIET),
                    new Cell(Figures.seconds(run.seconds()), Meaning.QUIET)));
        }
        List<String> lines = new ArrayList<>(table.lines(style, width, TIME, STAYED));
        if (runs.size() > 1) {
            lines.add("");
            lines.add("differences  " + style.paint(trend(runs), Meaning.CHANGED) + "  "
                    + Figures.count(runs.get(0).run().differences()) + " to "
                    + Figures.count(runs.get(runs.size() - 1).run().differences()));
        }
        return lines;
    }

    private static Cell verdict(RunSummary run) {
        if (run.state() != RunState.COMPLETE) {
            return new Cell("not finished", Meaning.CHANGED);
        }
        return switch (run.exitCode()) {
            case 0 -> new Cell(run.differences() == 0 ? "same" : "accepted", Meaning.GOOD);
            case 1 -> new Cell("different", Meaning.CHANGED);
            default -> new Cell("not proved", Meaning.CHANGED);
        };
    }

    private static long sum(RunSummary run, ToLongFunction<MatchSummary> part) {
        return run.matches().stream().mapToLong(part).sum();
    }

    private static Cell count(long number, Meaning meaning) {
        return new Cell(Figures.count(number), number == 0 ? Meaning.QUIET : meaning);
    }

    private static Cell moved(Line line, ToLongFunction<Moved> part) {
        return line.moved().map(m -> count(part.applyAsLong(m), Meaning.NONE)).orElse(new Cell("-", Meaning.QUIET));
    }

    private static String trend(List<Line> runs) {
        long most = runs.stream().mapToLong(l -> l.run().differences()).max().orElse(0);
        StringBuilder marks = new StringBuilder();
        for (Line line : runs) {
            long of = line.run().differences();
            marks.append(of == 0 ? '·' : MARKS.charAt((int) ((MARKS.length() - 1) * of / Math.max(1, most))));
        }
        return marks.toString();
    }
}
