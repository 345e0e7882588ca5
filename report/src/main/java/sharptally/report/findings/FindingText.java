package sharptally.report.findings;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Kind;
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
        String title = match.name().equalsIgnoreCase(target) ? match.name() : match.name() + " > " + target;
        out.println(style.paint(TextWidth.harmless(title), Meaning.HEADING));
    }

    @Override
    public void finding(TableMatch match, Finding finding) {
        Meaning meaning = Meaning.ofKind(finding.kind().word());
        Cell kind = new Cell(finding.kind().word() + times(finding), meaning);
        Cell key = Cell.of(TextWidth.cut(keyText(finding), MAX_KEY_WIDTH));
        if (finding instanceof Finding.Repeated repeated) {
            pending.add(List.of(
                    kind,
                    key,
                    Cell.of(""),
                    Cell.of(Figures.count(repeated.inSource(), "row")),
                    Cell.of(Figures.count(repeated.inTarget(), "row"))));
        } else if (finding instanceof Finding.Changed) {
            Cell first = kind;
            for (FindingValues values : FindingValues.of(match, finding, filter)) {
                pending.add(List.of(
                        first,
                        first == kind ? key : Cell.of(""),
                        Cell.of(TextWidth.harmless(values.column())),
                        Cell.of(shown(values.source().orElseThrow(), values.comparedAs())),
                        Cell.of(shown(values.target().orElseThrow(), values.comparedAs()))));
                first = Cell.of("");
            }
        } else {
            boolean missing = finding.kind() == FindingKind.MISSING;
            Cell row = Cell.of(wholeRow(match, finding));
            Cell none = new Cell("-", Meaning.QUIET);
            pending.add(
                    List.of(kind, key, new Cell("(row)", Meaning.QUIET), missing ? row : none, missing ? none : row));
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
                .map(v -> shown(v.source().or(v::target).orElseThrow(), v.comparedAs()))
                .collect(Collectors.joining(", "));
    }

    /** Text in quotes, so that blanks show and NULL is not the word NULL; dates and the like held as text, bare. */
    private static String shown(Value value, Kind comparedAs) {
        boolean quoted = value instanceof Value.Text && (comparedAs == Kind.TEXT || comparedAs == Kind.ANY);
        String text = TextWidth.harmless(value.toString());
        return quoted ? "'" + text + "'" : text;
    }

    private void flush() {
        if (pending.isEmpty()) {
            return;
        }
        int[] widths = new int[5];
        pending.forEach(row -> {
            for (int i = 0; i < 3; i++) {
                widths[i] = Math.max(widths[i], TextWidth.of(row.get(i).text()));
            }
        });
        int left = columns - widths[0] - Math.max(3, widths[1]) - Math.max(6, widths[2]) - 8;
        int each = Math.max(MIN_VALUE_WIDTH, left / 2);
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("kind", keyHeading(), "column", "source", "target");
        for (List<Cell> row : pending) {
            table.row(List.of(row.get(0), row.get(1), row.get(2), cut(row.get(3), each), cut(row.get(4), each)));
        }
        table.lines(style).forEach(out::println);
        pending = new ArrayList<>();
    }

    private String keyHeading() {
        return current.filter(m -> !m.wholeRow())
                .map(m -> m.keyPairs().stream().map(p -> p.name()).collect(Collectors.joining(",")))
                .map(TextWidth::harmless)
                .orElse("key");
    }

    private static Cell cut(Cell cell, int width) {
        return new Cell(TextWidth.cut(cell.text(), width), cell.meaning());
    }

    @Override
    public void end() {
        flush();
    }
}
