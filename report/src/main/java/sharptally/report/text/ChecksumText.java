package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.types.Value;
import sharptally.formats.checksum.ChecksumFile;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** Checksums of a table's ranges as lines for a terminal; with those of a file, the ranges that differ. */
public final class ChecksumText {
    private static final int MAX_RANGES_LISTED = 40;
    private static final int MAX_KEY_WIDTH = 32;

    private ChecksumText() {}

    /**
     * @param differing places of the ranges that differ from the file's
     * @param remarks what the user should know, a sentence each
     * @param width of the screen
     */
    public static List<String> lines(
            ChecksumFile here,
            Optional<ChecksumFile> there,
            List<Integer> differing,
            List<String> remarks,
            Style style,
            int width) {
        List<String> lines = new ArrayList<>();
        TextTable head = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT);
        head.row(source("table", here));
        there.ifPresent(file -> head.row(source("against", file)));
        lines.addAll(head.lines(style, width));
        if (!remarks.isEmpty()) {
            lines.add("");
            lines.add(style.paint("notes", Meaning.HEADING));
            remarks.forEach(r -> lines.addAll(TextWidth.note(r, width)));
        }
        lines.add("");
        List<Integer> listed = there.isPresent()
                ? differing
                : IntStream.range(0, here.ranges().size()).boxed().toList();
        lines.addAll(table(here, there, listed, style));
        if (listed.size() > MAX_RANGES_LISTED) {
            lines.add("and " + Figures.count(listed.size() - MAX_RANGES_LISTED, "more range")
                    + "; all with --format json, or in a file with --out");
        }
        if (!listed.isEmpty()) {
            lines.add("");
        }
        lines.add(verdict(here, there, differing, style));
        return lines;
    }

    private static List<Cell> source(String word, ChecksumFile file) {
        ChecksumFile.Head head = file.head();
        return List.of(
                new Cell(word, Meaning.HEADING),
                Cell.of(TextWidth.harmless(head.place() + "#" + head.table())),
                new Cell(
                        TextWidth.harmless(head.product() + ", "
                                + Figures.count(file.total().rows(), "row") + " in "
                                + Figures.count(file.ranges().size(), "range") + ", " + head.made()),
                        Meaning.QUIET));
    }

    private static List<String> table(
            ChecksumFile here, Optional<ChecksumFile> there, List<Integer> listed, Style style) {
        TextTable table = there.isPresent()
                ? new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.RIGHT, Align.LEFT, Align.LEFT)
                : new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.LEFT);
        table.heading(
                there.isPresent()
                        ? new String[] {"from", "up to", "rows here", "rows there", "checksum here", "checksum there"}
                        : new String[] {"from", "up to", "rows", "checksum"});
        for (int i : listed.subList(0, Math.min(listed.size(), MAX_RANGES_LISTED))) {
            KeyRange range = here.ranges().get(i);
            RangeSum sum = here.sums().get(i);
            List<Cell> row = new ArrayList<>(List.of(key(range.from(), "start"), key(range.to(), "end")));
            if (there.isPresent()) {
                RangeSum other = there.get().sums().get(i);
                Meaning rows = sum.rows() == other.rows() ? Meaning.NONE : Meaning.CHANGED;
                row.add(new Cell(Figures.count(sum.rows()), rows));
                row.add(new Cell(Figures.count(other.rows()), rows));
                row.add(new Cell(sum.hex(), Meaning.QUIET));
                row.add(new Cell(other.hex(), Meaning.QUIET));
            } else {
                row.add(Cell.of(Figures.count(sum.rows())));
                row.add(new Cell(sum.hex(), Meaning.QUIET));
            }
            table.row(row);
        }
        return listed.isEmpty() ? List.of() : table.lines(style);
    }

    private static Cell key(List<Value> key, String open) {
        String text = key.stream().map(Value::toString).collect(Collectors.joining(","));
        return key.isEmpty()
                ? new Cell(open, Meaning.QUIET)
                : Cell.of(TextWidth.cut(TextWidth.harmless(text), MAX_KEY_WIDTH));
    }

    /** What was found, on one line. */
    public static String verdict(
            ChecksumFile here, Optional<ChecksumFile> there, List<Integer> differing, Style style) {
        String all = Figures.count(here.ranges().size(), "range");
        if (there.isEmpty()) {
            return Figures.count(here.total().rows(), "row") + " in " + all + ", checksum "
                    + here.total().hex();
        }
        return differing.isEmpty()
                ? style.paint("same", Meaning.GOOD) + ": rows and checksum of all " + all + " are those of the file"
                : style.paint("different", Meaning.CHANGED) + ": " + Figures.count(differing.size()) + " of " + all;
    }
}
