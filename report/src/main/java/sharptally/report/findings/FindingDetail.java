package sharptally.report.findings;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.LikelyCause;
import sharptally.core.match.TableMatch;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextWidth;

/**
 * One block per row: each column that differs with the whole values under each other, folded to the screen, the part in
 * which long text differs between brackets, and the likely cause.
 */
final class FindingDetail implements FindingFormat {
    private static final int LONG = 20;
    private static final int MARGIN = 10;

    private final FindingFilter filter;
    private final Redaction redaction;
    private final Style style;
    private final int columns;
    private final PrintWriter out;
    private boolean begun;

    FindingDetail(FindingFilter filter, Redaction redaction, Style style, int columns, PrintWriter out) {
        this.filter = filter;
        this.redaction = redaction;
        this.style = style;
        this.columns = columns;
        this.out = out;
    }

    @Override
    public void begin(TableMatch match) {}

    @Override
    public void finding(TableMatch match, Finding finding) {
        out.print(begun ? "\n" : "");
        begun = true;
        String word = finding.kind().word();
        out.println(style.paint(
                        TextWidth.harmless(match.name() + " " + FindingFilter.keyText(finding.key())), Meaning.HEADING)
                + "  " + style.paint(word, Meaning.ofKind(word)) + position(finding));
        if (finding instanceof Finding.Repeated repeated) {
            out.println("  " + Figures.count(repeated.inSource(), "row") + " in the source, "
                    + Figures.count(repeated.inTarget(), "row") + " in the target");
        }
        for (FindingValues values : FindingValues.of(match, finding, filter)) {
            column(values);
        }
    }

    private String position(Finding finding) {
        String text = PositionText.named(finding.positions());
        return text.isEmpty() ? "" : "  " + style.paint(text, Meaning.QUIET);
    }

    private void column(FindingValues values) {
        String name = TextWidth.harmless(values.column());
        if (values.source().isEmpty() || values.target().isEmpty()) {
            folded(
                    "  " + name + "  ",
                    values.shown(values.source().or(values::target).orElseThrow()));
            return;
        }
        if (redaction.isHiding()) {
            // Marks are no values: they have no cause, and no part in which they differ.
            out.println("  " + name);
            folded("    source  ", values.shown(values.source().get()));
            folded("    target  ", values.shown(values.target().get()));
            return;
        }
        String cause = LikelyCause.of(
                        values.comparedAs(),
                        values.source().get(),
                        values.target().get())
                .map(likely -> "  " + style.paint(likely.words(), Meaning.QUIET))
                .orElse("");
        out.println("  " + name + cause);
        List<String> marked = marked(
                values.shown(values.source().get()),
                values.shown(values.target().get()));
        folded("    source  ", marked.get(0));
        folded("    target  ", marked.get(1));
    }

    /** Both texts with brackets round what differs, where they are long and partly alike. */
    static List<String> marked(String source, String target) {
        int[] s = source.codePoints().toArray();
        int[] t = target.codePoints().toArray();
        int shorter = Math.min(s.length, t.length);
        int head = 0;
        while (head < shorter && s[head] == t[head]) {
            head++;
        }
        int tail = 0;
        while (tail < shorter - head && s[s.length - 1 - tail] == t[t.length - 1 - tail]) {
            tail++;
        }
        if (Math.max(s.length, t.length) < LONG || head + tail < 4) {
            return List.of(source, target);
        }
        return List.of(bracketed(s, head, tail), bracketed(t, head, tail));
    }

    private static String bracketed(int[] text, int head, int tail) {
        int end = text.length - tail;
        String whole = new String(text, 0, text.length);
        return head == end
                ? whole
                : new String(text, 0, head) + "[" + new String(text, head, end - head) + "]"
                        + new String(text, end, tail);
    }

    private void folded(String start, String text) {
        int width = Math.max(MARGIN, columns - TextWidth.of(start));
        List<String> lines = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        int used = 0;
        for (int c : text.codePoints().toArray()) {
            String letter = Character.toString(c);
            int size = TextWidth.of(letter);
            if (used + size > width) {
                lines.add(line.toString());
                line.setLength(0);
                used = 0;
            }
            line.append(letter);
            used += size;
        }
        lines.add(line.toString());
        String indent = " ".repeat(TextWidth.of(start));
        for (int i = 0; i < lines.size(); i++) {
            out.println((i == 0 ? start : indent) + lines.get(i));
        }
    }

    @Override
    public void end() {}
}
