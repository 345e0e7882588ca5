package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import sharptally.core.place.Side;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.LoneSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RuleSummary;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;

/** The result of a run as lines for a terminal: places, notes, one line per match, columns that differ, verdict. */
public final class RunText {
    private static final int MAX_COLUMNS_LISTED = 30;

    /** Up to so many tables that are the same are listed one by one. */
    private static final int MAX_SAME_LISTED = 20;

    private static final int MAX_NAME_WIDTH = 40;
    private static final int LEAST_NAME = 20;
    /** Width of the rows of either side and of the kinds, about. */
    private static final int WIDTH_OF_KINDS = 60;

    private static final int MAX_KEY_WIDTH = 24;
    /** Place of the key among the cells of a column that differs. */
    private static final int KEY = 3;

    private static final int SHARE = 2;

    private static final int MAX_DECLARED_LISTED = 20;

    private static final int MIN_EXAMPLE_WIDTH = 19;
    /** Width of all that stands before the examples, about. */
    private static final int WIDTH_OF_COUNTS = 68;

    private final RunSummary run;
    private final Style style;
    private final int columns;
    private final boolean all;
    private final List<String> lines = new ArrayList<>();

    private RunText(RunSummary run, Style style, int columns, boolean all) {
        this.run = run;
        this.all = all;
        this.columns = columns;
        this.style = style;
    }

    /**
     * @param columns width of the terminal
     * @param all whether tables that are the same are listed one by one, and notes too, however many there are
     */
    public static List<String> lines(RunSummary run, Style style, int columns, boolean all) {
        RunText text = new RunText(run, style, columns, all);
        text.places();
        text.matches();
        text.notes();
        text.strips();
        text.columns();
        text.rules();
        text.constraints();
        text.declared();
        text.accepted();
        text.lines.addAll(TotalsText.lines(run, style, columns, false));
        text.lines.addAll(VerdictText.lines(run, style, columns, all));
        return List.copyOf(text.lines);
    }

    private void places() {
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT);
        table.row(List.of(
                new Cell("source", Meaning.HEADING),
                Cell.of(run.source().name()),
                new Cell(run.source().product(), Meaning.QUIET)));
        table.row(List.of(
                new Cell("target", Meaning.HEADING),
                Cell.of(run.target().name()),
                new Cell(run.target().product(), Meaning.QUIET)));
        lines.addAll(table.lines(style, columns));
        lines.add("");
    }

    /** What is worth knowing of a run and of its matches, a sentence each. */
    public static List<String> notes(RunSummary run) {
        List<String> notes = new ArrayList<>(run.narrowed());
        notes.addAll(run.notes());
        run.integrity().ifPresent(found -> {
            notes.add(Figures.count(found.met(), "constraint") + " of both sides met, "
                    + Figures.count(found.unmet().size()) + " not");
            found.notLookedAt().forEach(why -> notes.add("CONSTRAINTS NOT LOOKED AT: " + why));
        });
        run.declared().ifPresent(found -> {
            notes.add(
                    found.otherwise().isEmpty()
                            ? "beside their columns, tables are declared alike in all that both sides tell of"
                            : Figures.count(found.otherwise().size(), "declaration")
                                    + " of tables differ; that says nothing of their rows");
            notes.addAll(found.untold());
        });
        run.settling()
                .ifPresent(how -> notes.add("rows that differed were looked at again "
                        + Figures.count(how.looks(), "time")
                        + (how.replayed()
                                ? ", each time when the target had replayed what the source had written by then"
                                : "")
                        + "; one that differs has done so, in the same way, for " + Figures.seconds(how.limitSeconds())
                        + " at least"
                        + (run.movingKeys() > 0
                                ? ", but for those that kept changing: nothing is proved of them"
                                : "")));
        if (!run.leftOut().isEmpty()) {
            notes.add("tables left out on request: " + VerdictText.some(run.leftOut()));
        }
        run.lone()
                .forEach(t -> t.untold()
                        .ifPresent(why -> notes.add("table " + t.table() + " is seen in the " + t.side()
                                + " only; whether it is on the other side can't be told: " + why)));
        for (MatchSummary match : run.matches()) {
            match.shape().forEach(n -> notes.add(match.name() + ": " + n));
            match.narrowed().stream()
                    .filter(n -> !run.narrowed().contains(n))
                    .forEach(n -> notes.add(match.name() + ": " + n));
            if (match.emptied()) {
                notes.add(match.name() + ": NOTHING COMPARED: no row on either side was left; where that may be, say"
                        + " --allow-empty, or allow-empty: true in the job file");
            }
            match.notes().forEach(n -> notes.add(match.name() + ": " + n));
            match.notCompared().forEach(n -> notes.add(match.name() + ": NOT COMPARED: " + n));
        }
        return notes;
    }

    private void notes() {
        List<String> notes = all ? notes(run) : GroupedNotes.of(notes(run));
        if (!notes.isEmpty()) {
            lines.add(style.paint("notes", Meaning.HEADING));
            notes.forEach(n -> lines.addAll(TextWidth.note(n, columns)));
            lines.add("");
        }
    }

    private void matches() {
        boolean repeated = run.matches().stream().anyMatch(m -> m.repeated() > 0);
        List<Align> aligns = new ArrayList<>(List.of(Align.LEFT));
        List<String> heading =
                new ArrayList<>(List.of("table", "source rows", "target rows", "same", "changed", "missing", "extra"));
        if (repeated) {
            heading.add("repeated");
        }
        for (int i = 1; i < heading.size(); i++) {
            aligns.add(Align.RIGHT);
        }
        heading.addAll(List.of("method", "time"));
        aligns.addAll(List.of(Align.LEFT, Align.RIGHT));
        TextTable table = new TextTable(aligns.toArray(new Align[0]));
        table.heading(heading.toArray(new String[0]));
        List<MatchSummary> same = run.matches().stream().filter(RunText::isSame).toList();
        run.matches().stream().filter(m -> !isSame(m)).forEach(m -> match(table, m, heading, repeated));
        loneTables(table, heading.size());
        if (all || same.size() <= MAX_SAME_LISTED) {
            same.forEach(m -> match(table, m, heading, repeated));
        } else {
            sameTables(table, same, heading.size());
        }
        boolean told = !run.lone().isEmpty()
                || run.matches().stream()
                        .anyMatch(m ->
                                m.missingColumns().size() + m.extraColumns().size() > 0);
        int time = heading.size() - 1;
        // What stands on one side only is told in the place of the method, which then can't be done without.
        lines.addAll(told ? table.lines(style, columns, time) : table.lines(style, columns, time - 1, time));
        lines.add("");
    }

    /** Whether it was compared whole, and nothing is to be said of it. */
    private static boolean isSame(MatchSummary match) {
        return match.nothingDiffers()
                && match.state() == RunState.COMPLETE
                && match.missingColumns().isEmpty()
                && match.extraColumns().isEmpty();
    }

    private void sameTables(TextTable table, List<MatchSummary> same, int width) {
        List<Cell> row = new ArrayList<>(List.of(
                Cell.of(Figures.count(same.size(), "table") + " the same"),
                number(same.stream().mapToLong(MatchSummary::sourceRows).sum(), Meaning.NONE),
                number(same.stream().mapToLong(MatchSummary::targetRows).sum(), Meaning.NONE),
                number(same.stream().mapToLong(MatchSummary::same).sum(), Meaning.GOOD)));
        while (row.size() < width - 2) {
            row.add(number(0, Meaning.NONE));
        }
        row.add(new Cell("--all", Meaning.QUIET));
        row.add(new Cell(
                Figures.seconds(same.stream().mapToDouble(MatchSummary::seconds).sum()), Meaning.QUIET));
        table.row(row);
    }

    private void match(TextTable table, MatchSummary match, List<String> heading, boolean repeated) {
        List<Cell> row = new ArrayList<>(List.of(Cell.of(
                TextWidth.cut(TextWidth.harmless(name(match)), Math.max(LEAST_NAME, columns - WIDTH_OF_KINDS)))));
        if (match.state() == RunState.INCOMPLETE) {
            for (int i = 1; i < heading.size() - 2; i++) {
                row.add(Cell.of("?"));
            }
            row.add(Cell.of("not finished"));
            row.add(Cell.of(""));
        } else {
            row.add(number(match.sourceRows(), Meaning.NONE));
            row.add(number(match.targetRows(), Meaning.NONE));
            row.add(number(match.same(), match.differences() == 0 ? Meaning.GOOD : Meaning.NONE));
            row.add(number(match.changed(), Meaning.CHANGED));
            row.add(number(match.missing(), Meaning.MISSING));
            row.add(number(match.extra(), Meaning.EXTRA));
            if (repeated) {
                row.add(number(match.repeated(), Meaning.REPEATED));
            }
            row.add(new Cell(match.method(), Meaning.QUIET));
            row.add(new Cell(Figures.seconds(match.seconds()), Meaning.QUIET));
        }
        table.row(row);
        match.missingColumns()
                .forEach(c -> table.row(lone(
                        match.name() + "." + c, "", "", new Cell("missing column", Meaning.MISSING), heading.size())));
        match.extraColumns()
                .forEach(c -> table.row(
                        lone(match.name() + "." + c, "", "", new Cell("extra column", Meaning.EXTRA), heading.size())));
    }

    private void loneTables(TextTable table, int width) {
        for (LoneSummary lone : run.lone()) {
            Meaning meaning = lone.untold().isPresent()
                    ? Meaning.CHANGED
                    : lone.side() == Side.SOURCE ? Meaning.MISSING : Meaning.EXTRA;
            String rows = lone.rows() < 0 ? "?" : (lone.about() ? "about " : "") + Figures.count(lone.rows());
            String none = lone.untold().isPresent() ? "?" : "-";
            table.row(lone(
                    lone.table(),
                    lone.side() == Side.SOURCE ? rows : none,
                    lone.side() == Side.SOURCE ? none : rows,
                    new Cell(lone.word(), meaning),
                    width));
        }
    }

    /** A table or column of one side alone, which stands where others tell their method. */
    private static List<Cell> lone(String name, String source, String target, Cell what, int width) {
        List<Cell> row = new ArrayList<>(List.of(Cell.of(TextWidth.harmless(name)), Cell.of(source), Cell.of(target)));
        while (row.size() < width - 2) {
            row.add(Cell.of(""));
        }
        row.add(what);
        row.add(Cell.of(""));
        return row;
    }

    private static Cell number(long number, Meaning meaning) {
        return number == 0 ? new Cell("0", Meaning.QUIET) : new Cell(Figures.count(number), meaning);
    }

    private static String name(MatchSummary match) {
        return match.partitionOf().orElse(match.name()).equalsIgnoreCase(match.target())
                ? match.name()
                : match.name() + " > " + match.target();
    }

    private void strips() {
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("where rows differ", "from key", "", "to key", "");
        boolean any = false;
        for (MatchSummary match : run.matches()) {
            if (match.damage().stream().anyMatch(c -> c.differing() > 0)) {
                any = true;
                List<Cell> row = new ArrayList<>();
                row.add(Cell.of(TextWidth.cut(TextWidth.harmless(match.name()), MAX_NAME_WIDTH)));
                row.addAll(StripText.row(match.damage(), columns));
                table.row(row);
            }
        }
        if (any) {
            lines.addAll(table.lines(style, columns, StripText.HIT + 1));
            lines.add("");
        }
    }

    /** The columns that differ, each with three examples where there is room for them. */
    private void columns() {
        int left = columns - WIDTH_OF_COUNTS;
        int width = Math.max(MIN_EXAMPLE_WIDTH, left / 2);
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("columns that differ", "rows", "of changed", "key", "source", "target");
        int listed = 0;
        int all = 0;
        for (MatchSummary match : run.matches()) {
            for (ColumnSummary column : match.differing()) {
                all++;
                if (listed < MAX_COLUMNS_LISTED) {
                    listed++;
                    column(table, match, column, width);
                }
            }
        }
        if (listed > 0) {
            lines.addAll(table.lines(style, columns, KEY, SHARE));
            if (all > listed) {
                lines.add("and " + Figures.count(all - listed, "more column") + ", all in run.json");
            }
            lines.add("");
        }
    }

    private void column(TextTable table, MatchSummary match, ColumnSummary column, int width) {
        boolean first = true;
        for (ColumnSummary.Example example : column.examples()) {
            table.row(List.of(
                    Cell.of(
                            first
                                    ? TextWidth.cut(
                                            TextWidth.harmless(match.name() + "." + column.column()), MAX_NAME_WIDTH)
                                    : ""),
                    first ? new Cell(Figures.count(column.rows()), Meaning.CHANGED) : Cell.of(""),
                    Cell.of(first ? Figures.share(column.rows(), match.changed()) : ""),
                    new Cell(
                            TextWidth.cut(TextWidth.harmless(String.join(",", example.key())), MAX_KEY_WIDTH),
                            Meaning.QUIET),
                    Cell.of(TextWidth.cut(TextWidth.harmless(example.source()), width)),
                    Cell.of(TextWidth.cut(TextWidth.harmless(example.target()), width))));
            first = false;
        }
    }

    /** What does not meet constraints of either side, and what mends it. */
    private void constraints() {
        if (run.unmet().isEmpty()) {
            return;
        }
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.LEFT, Align.LEFT);
        table.heading("constraints not met", "in the", "rows", "", "such as");
        int width = Math.max(MIN_EXAMPLE_WIDTH, (columns - WIDTH_OF_COUNTS) / 2);
        for (RunSummary.Unmet unmet : run.unmet()) {
            table.row(List.of(
                    Cell.of(TextWidth.cut(TextWidth.harmless(unmet.table()), MAX_NAME_WIDTH)),
                    Cell.of(unmet.side().toString()),
                    number(unmet.rows(), Meaning.CHANGED),
                    Cell.of(TextWidth.harmless(unmet.what())),
                    new Cell(
                            TextWidth.cut(TextWidth.harmless(String.join("; ", unmet.examples())), width),
                            Meaning.QUIET)));
        }
        lines.addAll(table.lines(style, columns));
        run.unmet().forEach(unmet -> unmet.mend().ifPresent(mend -> lines.add("  " + TextWidth.harmless(mend))));
        lines.add("");
    }

    /** What tables are declared to be on one side and not on the other. */
    private void declared() {
        List<RunSummary.DeclaredOtherwise> otherwise = run.declaredOtherwise();
        int listed = all ? otherwise.size() : Math.min(otherwise.size(), MAX_DECLARED_LISTED);
        lines.addAll(SurveyText.declared(otherwise.subList(0, listed), style, columns));
        if (listed < otherwise.size()) {
            lines.set(
                    lines.size() - 1,
                    "and " + Figures.count(otherwise.size() - listed, "more declaration") + ", all in run.json");
            lines.add("");
        }
    }

    /** What is accepted for now, by whom and why; and entries that are past, or that nothing met. */
    private void accepted() {
        if (run.accepted().isEmpty()) {
            return;
        }
        TextTable table =
                new TextTable(Align.LEFT, Align.RIGHT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        table.heading("accepted for now", "rows", "which", "reason", "owner", "until", "");
        int width = Math.max(MIN_EXAMPLE_WIDTH, (columns - WIDTH_OF_COUNTS) / 2);
        for (RunSummary.Accepted entry : run.accepted()) {
            boolean used = entry.state() == RunSummary.AcceptedState.USED;
            table.row(List.of(
                    Cell.of(TextWidth.cut(TextWidth.harmless(entry.table()), MAX_NAME_WIDTH)),
                    number(entry.rows(), used ? Meaning.NONE : Meaning.CHANGED),
                    Cell.of(TextWidth.cut(TextWidth.harmless(entry.what()), width)),
                    Cell.of(TextWidth.cut(TextWidth.harmless(entry.reason()), width)),
                    Cell.of(TextWidth.cut(TextWidth.harmless(entry.owner()), MAX_KEY_WIDTH)),
                    Cell.of(entry.until()),
                    used ? Cell.of("") : new Cell(entry.state().toString(), Meaning.CHANGED)));
        }
        lines.addAll(table.lines(style, columns));
        lines.add("");
    }

    /** What was the same only by a rule, so that nobody is fooled. */
    private void rules() {
        TextTable table = new TextTable(Align.LEFT, Align.RIGHT, Align.LEFT);
        table.heading("the same only by a rule", "values", "rule");
        boolean any = false;
        for (MatchSummary match : run.matches()) {
            for (RuleSummary rule : match.sameByRule()) {
                any = true;
                table.row(List.of(
                        Cell.of(TextWidth.harmless(match.name() + "." + rule.column())),
                        Cell.of(Figures.count(rule.rows())),
                        Cell.of(rule.rule())));
            }
        }
        if (any) {
            lines.addAll(table.lines(style));
            lines.add("");
        }
    }
}
