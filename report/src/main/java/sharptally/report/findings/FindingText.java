package sharptally.report.findings;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/**
 * Findings for a terminal: under each table one line per differing value, source beside target; a row that one side
 * lacks takes one line. Aligned over a few hundred lines at a time, so that memory stays flat.
 */
final class FindingText implements FindingFormat {
    private static final int ROWS_ALIGNED = 500;
    private static final int MIN_VALUE_WIDTH = 16;
    private static final int MAX_KEY_WIDTH = 40;
    /** Place of the source's value among the cells of a row; a missing row ends there. */
    private static final int SOURCE = 4;
    /** Blanks between the columns. */
    private static final int GAPS = 8;
    /** Place of where the row stands, which is shown where a row of the table tells it. */
    private static final int POSITION = 2;

    private static final int MAX_POSITION_WIDTH = 40;

    private final FindingFilter filter;
    private final Style style;
    private final int columns;
    private final PrintWriter out;
    private List<List<Cell>> pending = new ArrayList<>();
    private Optional<TableMatch> current = Optional.empty();

    FindingText(FindingFilter filter, Style style, int columns, PrintWriter out) {
        this.filter = filter;
        this.style = style;
        this.columns = columns;
        this.out = out;
    }

    @Override
    public void begin(TableMatch match) {
        flush();
        if (current.isPresent()) {
            out.println();
        }
        current = Optional.of(match);
        String target = match.target().name().name();
        boolean alike = match.partitionOf().orElse(match.name()).equalsIgnoreCase(target);
        String title = alike ? match.name() : match.name() + " > " + target;
        out.println(style.paint(TextWidth.harmless(title), Meaning.HEADING));
    }

    @Override
    public void finding(TableMatch match, Finding finding) {
        Meaning meaning = Meaning.ofKind(finding.kind().word());
        Cell kind = new Cell(finding.kind().word() + times(finding), meaning);
        Cell key = Cell.of(TextWidth.cut(keyText(finding), MAX_KEY_WIDTH));
        Cell position =
                new Cell(TextWidth.cut(PositionText.of(finding.positions()), MAX_POSITION_WIDTH), Meaning.QUIET);
        if (finding instanceof Finding.Repeated repeated) {
            pending.add(List.of(
                    kind,
                    key,
                    position,
                    Cell.of(""),
                    Cell.of(Figures.count(repeated.inSource(), "row")),
                    Cell.of(Figures.count(repeated.inTarget(), "row"))));
        } else if (finding instanceof Finding.Changed) {
            Cell first = kind;
            for (FindingValues values : FindingValues.of(match, finding, filter)) {
                pending.add(List.of(
                        first,
                        first == kind ? key : Cell.of(""),
                        first == kind ? position : Cell.of(""),
                        Cell.of(TextWidth.harmless(values.column())),
                        Cell.of(values.shown(values.source().orElseThrow())),
                        Cell.of(values.shown(values.target().orElseThrow()))));
                first = Cell.of("");
            }
        } else {
            boolean missing = finding.kind() == FindingKind.MISSING;
            Cell row = Cell.of(wholeRow(match, finding));
            List<Cell> cells = new ArrayList<>(List.of(kind, key, position, new Cell("(row)", Meaning.QUIET)));
            if (!missing) {
                cells.add(Cell.of("-"));
            }
            cells.add(row);
            pending.add(cells);
        }
        if (pending.size() >= ROWS_ALIGNED) {
            flush();
        }
    }

    private static String times(Finding finding) {
        long times = finding instanceof Finding.Missing missing
                ? missing.times()
                : finding instanceof Finding.Extra extra ? extra.times() : 1;
        return times == 1 ? "" : " x" + Figures.count(times);
    }

    private static String keyText(Finding finding) {
        return finding.key().isEmpty()
                ? "(no key)"
                : TextWidth.harmless(finding.key().stream().map(Value::toString).collect(Collectors.joining(",")));
    }

    private String wholeRow(TableMatch match, Finding finding) {
        List<String> keyNames = match.keyPairs().stream()
                .map(p -> finding.kind() == FindingKind.MISSING
                        ? p.source().name()
                        : p.target().name())
                .toList();
        return FindingValues.of(match, finding, filter).stream()
                .filter(v -> !keyNames.contains(v.column()))
                .map(v -> v.shown(v.source().or(v::target).orElseThrow()))
                .collect(Collectors.joining(", "));
    }

    private void flush() {
        if (pending.isEmpty()) {
            return;
        }
        int[] widths = {4, 3, 0, 6, 6, 0};
        pending.forEach(row -> {
            for (int i = 0; i < widths.length - 1; i++) {
                boolean spans = i == SOURCE && row.size() == SOURCE + 1;
                widths[i] = spans
                        ? widths[i]
                        : Math.max(widths[i], TextWidth.of(row.get(i).text()));
            }
        });
        String heading = TextWidth.cut(keyHeading(), Math.max(widths[1], columns / 5));
        widths[1] = Math.max(widths[1], TextWidth.of(heading));
        boolean positions = widths[POSITION] > 0;
        int left =
                columns - widths[0] - widths[1] - widths[POSITION + 1] - GAPS - (positions ? widths[POSITION] + 2 : 0);
        int source = Math.min(widths[SOURCE], Math.max(MIN_VALUE_WIDTH, left / 2));
        Align[] aligned = new Align[positions ? SOURCE + 1 : SOURCE];
        Arrays.fill(aligned, Align.LEFT);
        TextTable table = new TextTable(aligned);
        List<String> headings =
                new ArrayList<>(List.of("kind", heading, "at", "column", side("source", source) + "target"));
        if (!positions) {
            headings.remove(POSITION);
        }
        table.heading(headings.toArray(new String[0]));
        for (List<Cell> row : pending) {
            // A row that the target lacks needs no column of its own for the target, so it takes both.
            String values = row.size() == SOURCE + 1
                    ? TextWidth.cut(row.get(SOURCE).text(), Math.max(2 * MIN_VALUE_WIDTH, left))
                    : side(TextWidth.cut(row.get(SOURCE).text(), source), source)
                            + TextWidth.cut(row.get(SOURCE + 1).text(), Math.max(MIN_VALUE_WIDTH, left - source));
            List<Cell> cells = new ArrayList<>(row.subList(0, SOURCE));
            cells.add(Cell.of(values));
            if (!positions) {
                cells.remove(POSITION);
            }
            table.row(cells);
        }
        table.lines(style).forEach(out::println);
        pending = new ArrayList<>();
    }

    private static String side(String text, int width) {
        return text + " ".repeat(Math.max(0, width - TextWidth.of(text)) + 2);
    }

    private String keyHeading() {
        return current.filter(m -> !m.wholeRow())
                .map(m -> m.keyPairs().stream().map(p -> p.name()).collect(Collectors.joining(",")))
                .map(TextWidth::harmless)
                .orElse("key");
    }

    @Override
    public void end() {
        flush();
    }
}
