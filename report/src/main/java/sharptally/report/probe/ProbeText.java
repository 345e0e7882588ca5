package sharptally.report.probe;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/** What a probe of a server found, as lines for a terminal and as a file to send. */
public final class ProbeText {
    public static final String EXACT = "exact";

    /** The engine does not do it there, and something else is done. */
    public static final String NOT_OFFERED = "-";

    public static final String WRONG = "WRONG";

    /** The engine writes values in a text of its own, so that equal ones may look different to another engine, never the reverse. */
    public static final String OWN_TEXT = "own text";

    private static final List<String> WAYS = List.of("stream", "checksum", "joined", "form", "key", "change");

    /**
     * @param facts of the place
     * @param guards of changes
     * @param left scratch tables that could not be dropped, and why
     */
    public record Report(
            String address,
            String product,
            Map<String, String> facts,
            List<Probed> types,
            List<Finding> guards,
            List<String> left) {
        /** Whether nothing was found wrong, and nothing is left. */
        public boolean isExact() {
            return left.isEmpty()
                    && types.stream().noneMatch(t -> t.told().containsValue(WRONG))
                    && guards.stream().noneMatch(g -> g.kept().filter(k -> !k).isPresent());
        }
    }

    /**
     * A type.
     *
     * @param comparedAs empty where it is not there, or not compared
     * @param told what became of each way in which its values are told apart
     */
    public record Probed(String type, Optional<String> comparedAs, Map<String, String> told, List<String> notes) {}

    /**
     * A promise.
     *
     * @param kept empty where it could not be tried
     */
    public record Finding(String what, Optional<Boolean> kept, String note) {}

    private ProbeText() {}

    public static List<String> lines(Report report, Style style) {
        List<String> lines = new ArrayList<>();
        TextTable head = new TextTable(Align.LEFT, Align.LEFT);
        head.row(List.of(new Cell("database", Meaning.HEADING), Cell.of(report.address())));
        head.row(List.of(new Cell("product", Meaning.HEADING), Cell.of(report.product())));
        report.facts()
                .forEach((name, value) ->
                        head.row(List.of(new Cell(name, Meaning.HEADING), Cell.of(TextWidth.harmless(value)))));
        lines.addAll(head.lines(style));
        lines.add("");
        TextTable types = new TextTable(
                Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        types.heading("type", "compared as", "stream", "checksum", "joined", "form", "key", "change");
        for (Probed type : report.types()) {
            List<Cell> cells = new ArrayList<>(List.of(
                    Cell.of(type.type()),
                    Cell.of(type.comparedAs().orElseGet(() -> type.notes().get(0)))));
            WAYS.forEach(way -> cells.add(cell(type.told().getOrDefault(way, ""))));
            types.row(cells);
        }
        lines.addAll(types.lines(style));
        lines.add("");
        for (Finding guard : report.guards()) {
            String word = guard.kept().map(k -> k ? EXACT : WRONG).orElse("not tried");
            lines.add((word.equals(EXACT) ? "kept   " : word + "  ")
                    + guard.what()
                    + (guard.note().isEmpty() ? "" : ": " + TextWidth.harmless(guard.note())));
        }
        List<String> notes = report.types().stream()
                .filter(type -> type.comparedAs().isPresent())
                .flatMap(type -> type.notes().stream().map(note -> type.type() + ": " + TextWidth.harmless(note)))
                .toList();
        if (!notes.isEmpty()) {
            lines.add("");
            lines.add(style.paint("notes", Meaning.HEADING));
            notes.forEach(note -> lines.add("  " + note));
        }
        report.left().forEach(table -> lines.add("could not be dropped: " + TextWidth.harmless(table)));
        lines.add("");
        lines.add(verdict(report));
        return lines;
    }

    private static String verdict(Report report) {
        if (report.isExact()) {
            return "exact: what was tried here is as docs/types.md says; the scratch tables are dropped";
        } else if (report.types().stream().anyMatch(t -> t.told().containsValue(WRONG))
                || report.guards().stream()
                        .anyMatch(g -> g.kept().filter(k -> !k).isPresent())) {
            return "not exact: see what is told as " + WRONG
                    + "; please send this report to whoever makes this program";
        }
        return "exact, but scratch tables are left: drop them";
    }

    private static Cell cell(String word) {
        return word.equals(WRONG) ? new Cell(word, Meaning.CHANGED) : Cell.of(word);
    }
}
