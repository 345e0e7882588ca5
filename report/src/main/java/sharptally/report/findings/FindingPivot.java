package sharptally.report.findings;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/** One line per value, with its key, also of rows that one side lacks: for tables of hundreds of columns. */
final class FindingPivot implements FindingFormat {
    private static final int LINES_ALIGNED = 500;
    private static final int MAX_KEY = 30;
    private static final int MIN_VALUE = 12;

    private final FindingFilter filter;
    private final Style style;
    private final int columns;
    private final PrintWriter out;
    private final List<List<Cell>> pending = new ArrayList<>();
    private boolean begun;

    FindingPivot(FindingFilter filter, Style style, int columns, PrintWriter out) {
        this.filter = filter;
        this.style = style;
        this.columns = columns;
        this.out = out;
    }

    @Override
    public void begin(TableMatch match) {
        flush();
        out.print(begun ? "\n" : "");
        begun = true;
        out.println(style.paint(TextWidth.harmless(match.name()), Meaning.HEADING));
    }

    @Override
    public void finding(TableMatch match, Finding finding) {
        Cell kind =
                new Cell(finding.kind().word(), Meaning.ofKind(finding.kind().word()));
        Cell key = Cell.of(TextWidth.cut(TextWidth.harmless(FindingFilter.keyText(finding.key())), MAX_KEY));
        for (FindingValues values : FindingValues.of(match, finding, filter)) {
            pending.add(List.of(
                    kind,
                    key,
                    Cell.of(TextWidth.harmless(values.column())),
                    Cell.of(shown(values, values.source())),
                    Cell.of(shown(values, values.target()))));
        }
        if (pending.size() >= LINES_ALIGNED) {
            flush();
        }
    }

    private static String shown(FindingValues values, Optional<Value> value) {
        return value.map(values::shown).orElse("-");
    }

    private void flush() {
        if (pending.isEmpty()) {
            return;
        }
        int before = 8;
        for (int i = 0; i < 3; i++) {
            int at = i;
            before += pending.stream()
                    .mapToInt(row -> TextWidth.of(row.get(at).text()))
                    .max()
                    .orElse(0);
        }
        int width = Math.max(MIN_VALUE, (columns - before) / 2);
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("kind", "key", "column", "source", "target");
        pending.forEach(row -> table.row(List.of(
                row.get(0),
                row.get(1),
                row.get(2),
                Cell.of(TextWidth.cut(row.get(3).text(), width)),
                Cell.of(TextWidth.cut(row.get(4).text(), width)))));
        table.lines(style).forEach(out::println);
        pending.clear();
    }

    @Override
    public void end() {
        flush();
    }
}
