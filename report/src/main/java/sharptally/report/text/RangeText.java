package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.range.DifferenceHistogram;
import sharptally.formats.run.MatchSummary;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** Where in the key range rows differ, as lines for a terminal: the strip of each table, then its ranges one by one. */
public final class RangeText {
    private static final int MAX_RANGES = 30;
    private static final int BAR = 20;
    private static final int BARS = 5;
    /** Parts of a letter by eighths, none first. */
    private static final String EIGHTHS = " ▏▎▍▌▋▊▉";

    private static final int MAX_KEY = 30;

    private RangeText() {}

    /**
     * Neighbouring cells in which rows differ.
     *
     * @param from key of the first row, as text that ranges of keys are written in; empty where it is the first of all
     * @param to key of the first row after them; empty where none follows
     * @param rows keys of either side
     * @param differing how many of them differ
     */
    public record DifferingRange(String table, String from, String to, long rows, long differing) {}

    /** The ranges of a table in which rows differ, in key order. */
    public static List<DifferingRange> ranges(MatchSummary match) {
        List<DifferingRange> all = new ArrayList<>();
        Optional<DifferingRange> open = Optional.empty();
        for (DifferenceHistogram.Cell cell : match.damage()) {
            String from = StripText.key(cell.from());
            if (cell.rows() == 0) {
                continue;
            }
            if (cell.differing() == 0) {
                open.ifPresent(s -> all.add(new DifferingRange(s.table, s.from, from, s.rows, s.differing)));
                open = Optional.empty();
            } else {
                open = Optional.of(open.map(s -> new DifferingRange(
                                s.table, s.from, "", s.rows + cell.rows(), s.differing + cell.differing()))
                        .orElse(new DifferingRange(match.name(), from, "", cell.rows(), cell.differing())));
            }
        }
        open.ifPresent(all::add);
        return all;
    }

    /**
     * @param width of the screen
     */
    public static List<String> lines(List<MatchSummary> matches, Style style, int width) {
        List<String> lines = new ArrayList<>();
        for (MatchSummary match : matches) {
            List<DifferingRange> ranges = ranges(match);
            if (ranges.isEmpty()) {
                continue;
            }
            lines.addAll(lines.isEmpty() ? List.of() : List.of(""));
            lines.add(style.paint(
                    TextWidth.harmless(match.name()) + "  by " + TextWidth.harmless(String.join(",", match.key())),
                    Meaning.HEADING));
            lines.addAll(new TextTable(Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT)
                    .row(StripText.row(match.damage(), width))
                    .lines(style, width, StripText.HIT));
            lines.addAll(table(ranges).lines(style, width, BARS));
            if (ranges.size() > MAX_RANGES) {
                int more = ranges.size() - MAX_RANGES;
                lines.add("and " + Figures.count(more) + (more == 1 ? " more key range" : " more key ranges")
                        + " (--format jsonl has all)");
            }
        }
        return lines;
    }

    private static TextTable table(List<DifferingRange> ranges) {
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.LEFT);
        table.heading("from key", "up to", "rows", "differ", "share", "");
        for (DifferingRange range : ranges.subList(0, Math.min(MAX_RANGES, ranges.size()))) {
            double share = (double) range.differing() / range.rows();
            table.row(List.of(
                    Cell.of(end(range.from(), "start")),
                    Cell.of(end(range.to(), "end")),
                    Cell.of(Figures.count(range.rows())),
                    new Cell(Figures.count(range.differing()), Meaning.CHANGED),
                    Cell.of(Figures.share(range.differing(), range.rows())),
                    new Cell(bar(share), Meaning.CHANGED)));
        }
        return table;
    }

    /** A bar in eighths of a letter, at least one. */
    private static String bar(double share) {
        int eighths = Math.max(1, (int) Math.round(share * BAR * EIGHTHS.length()));
        int rest = eighths % EIGHTHS.length();
        return "█".repeat(eighths / EIGHTHS.length()) + (rest == 0 ? "" : EIGHTHS.charAt(rest));
    }

    private static String end(String key, String none) {
        return key.isEmpty() ? none : TextWidth.cut(TextWidth.harmless(key), MAX_KEY);
    }
}
