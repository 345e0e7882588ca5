package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.draft.Draft;
import sharptally.core.shape.TableShape;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** A draft as lines for a terminal: which tables were paired, what is doubtful, and what was left over. */
public final class DraftSummary {
    private static final int MAX_ALONE = 20;

    /** What was drafted, as JSON. */
    public record Drafted(String jobFile, List<Pair> matches, List<String> sourceOnly, List<String> targetOnly) {
        public record Pair(
                String source, String target, List<String> key, String how, boolean sure, List<String> check) {
            static Pair of(Draft.Pair pair) {
                List<String> check = new ArrayList<>(pair.doubts());
                pair.key().doubt().ifPresent(check::add);
                pair.columns()
                        .forEach(c ->
                                c.doubt().ifPresent(d -> check.add(c.source().name() + ": " + d)));
                return new Pair(
                        pair.source().name().toString(),
                        pair.target().name().toString(),
                        pair.key().columns(),
                        pair.how(),
                        !pair.isDoubtful(),
                        check);
            }
        }

        public static Drafted of(String file, Draft draft) {
            return new Drafted(
                    file,
                    draft.pairs().stream().map(Pair::of).toList(),
                    draft.sourceOnly().stream().map(t -> t.name().toString()).toList(),
                    draft.targetOnly().stream().map(t -> t.name().toString()).toList());
        }
    }

    private DraftSummary() {}

    /**
     * @param updated matches that stood in the job file and have new columns
     * @param columns width of the terminal
     */
    public static List<String> lines(Draft draft, List<Draft.Pair> updated, Style style, int columns) {
        List<String> lines = new ArrayList<>();
        if (!draft.pairs().isEmpty()) {
            TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT);
            table.heading("source", "target", "columns", "key", "", "why");
            draft.pairs().forEach(p -> table.row(row(p)));
            table.lines(style).forEach(line -> lines.add(line));
            lines.add("");
            doubts(draft.pairs(), style, columns, lines);
        }
        updated.forEach(p -> lines.add(style.paint("new columns", Meaning.CHANGED) + "  "
                + TextWidth.harmless(p.source().name().toString()) + ": "
                + p.columns().size() + " paired, " + p.sourceOnly().size() + " in the source only, "
                + p.targetOnly().size() + " in the target only"));
        alone(draft.sourceOnly(), "source", style, lines);
        alone(draft.targetOnly(), "target", style, lines);
        long doubtful = draft.pairs().stream().filter(Draft.Pair::isDoubtful).count();
        lines.add(style.paint("drafted", Meaning.HEADING) + ": "
                + Figures.count(draft.pairs().size(), "pair") + " of tables, "
                + Figures.count(draft.pairs().size() - doubtful) + " without doubt, "
                + Figures.count(doubtful) + " to check; "
                + Figures.count(draft.sourceOnly().size()) + " left in the source, "
                + Figures.count(draft.targetOnly().size()) + " in the target");
        return lines;
    }

    private static List<Cell> row(Draft.Pair pair) {
        boolean some = !pair.sourceOnly().isEmpty() || !pair.targetOnly().isEmpty();
        return List.of(
                Cell.of(TextWidth.harmless(pair.source().name().toString())),
                Cell.of(TextWidth.harmless(pair.target().name().toString())),
                Cell.of(pair.columns().size()
                        + (some
                                ? " of " + pair.source().columns().size() + "/"
                                        + pair.target().columns().size()
                                : "")),
                Cell.of(TextWidth.harmless(
                        pair.key().columns().isEmpty()
                                ? "-"
                                : String.join(",", pair.key().columns()))),
                pair.isDoubtful() ? new Cell("check", Meaning.CHANGED) : new Cell("sure", Meaning.GOOD),
                new Cell(pair.how(), Meaning.QUIET));
    }

    private static void doubts(List<Draft.Pair> pairs, Style style, int columns, List<String> lines) {
        for (Draft.Pair pair : pairs) {
            String name = TextWidth.harmless(pair.source().name().toString());
            pair.doubts().forEach(d -> lines.add(doubt(name, d, style, columns)));
            pair.key().doubt().ifPresent(d -> lines.add(doubt(name, d, style, columns)));
            pair.columns()
                    .forEach(c -> c.doubt()
                            .ifPresent(d -> lines.add(doubt(
                                    name + "." + TextWidth.harmless(c.source().name()) + " > "
                                            + TextWidth.harmless(c.target().name()),
                                    d,
                                    style,
                                    columns))));
        }
        if (pairs.stream().anyMatch(Draft.Pair::isDoubtful)) {
            lines.add("");
        }
    }

    private static String doubt(String what, String doubt, Style style, int columns) {
        return style.paint("check", Meaning.CHANGED) + "  "
                + TextWidth.cut(what + ": " + TextWidth.harmless(doubt), Math.max(40, columns - 7));
    }

    private static void alone(List<TableShape> tables, String side, Style style, List<String> lines) {
        if (!tables.isEmpty()) {
            String names = String.join(
                    ", ",
                    tables.stream()
                            .limit(MAX_ALONE)
                            .map(t -> TextWidth.harmless(t.name().toString()))
                            .toList());
            lines.add(style.paint("no counterpart", Meaning.CHANGED) + "  in the " + side + ": " + names
                    + (tables.size() > MAX_ALONE ? " and " + (tables.size() - MAX_ALONE) + " more" : ""));
        }
    }
}
