package sharptally.cli.browse;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.TableFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.formats.run.FindingIndex;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.report.findings.ColumnCauses;
import sharptally.report.findings.ColumnText;
import sharptally.report.findings.FindingList;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.Redaction;
import sharptally.report.text.Figures;
import sharptally.report.text.Style;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;
import sharptally.report.text.VerdictText;

/** What is seen of a run, and what keys do: tables, then the rows of one, then one row. Used by one thread. */
public final class View implements AutoCloseable {
    /** Lines of a screen that are not the list: two above, two below. */
    private static final int FRAME = 4;

    /** From so many columns on, a row is shown whole beside the list. */
    private static final int WIDE = 120;

    private static final String BETWEEN = " \u2502 ";
    private static final List<String> KEYS = List.of(
            "up, down, k, j       move by a line",
            "page up, page down   move by a screen",
            "home, end, g, G      to the first, to the last",
            "enter                into the table, into the row",
            "esc, q               back; at the tables, q ends",
            "n, p                 in a row: the next, the one before",
            "space                mark a row, or take its mark away",
            "a                    mark all rows that are listed, or none",
            "f                    only one kind: missing, extra, changed, repeated",
            "/                    search in keys, columns and values",
            "c                    which columns differ, how often, likely causes",
            "s                    save the marked rows as a selection file, for script, apply and show",
            "?                    this");
    private static final int MAX_KEY = 28;
    private static final int MAX_NAME = 24;

    private final RunFolder run;
    private final Path selection;
    private final Redaction redaction;
    private final Style style;
    private final List<TableMatch> tables;
    private final Marks marks = new Marks();
    private Optional<Rows> rows = Optional.empty();
    private boolean inRow;
    private int table;
    private int firstTable;
    private int detailFrom;
    private Optional<StringBuilder> typing = Optional.empty();
    /** What is read instead of the list: help, or the columns of a table; empty where nothing is. */
    private Optional<List<String>> reading = Optional.empty();

    private int readingFrom;
    private boolean leaving;
    private String said = "";
    private int page = 10;
    private int columns = 80;

    /**
     * @param selection where marked rows are saved
     */
    public View(RunFolder run, Path selection, Redaction redaction, Style style) {
        this.run = run;
        this.selection = selection;
        this.redaction = redaction;
        this.style = style;
        this.tables =
                run.matches().stream().filter(m -> run.summaryOf(m).isPresent()).toList();
    }

    /**
     * Does what a key does.
     *
     * @return whether there is anything left to see
     */
    public boolean press(Key key) {
        said = "";
        if (typing.isPresent()) {
            type(key, typing.get());
            return key.kind() != Key.Kind.GONE;
        }
        if (key.kind() == Key.Kind.GONE || leaving && key.is('q')) {
            return false;
        }
        leaving = false;
        if (reading.isPresent()) {
            read(key, reading.get());
            return true;
        }
        if (key.is('q') && rows.isEmpty()) {
            leaving = marks.unsaved();
            return leaving;
        }
        if (key.is('?')) {
            read(KEYS);
        } else if (key.is('c') && !tables.isEmpty()) {
            read(columns());
        } else if (key.is('s')) {
            save();
        } else if (rows.isEmpty()) {
            inTables(key);
        } else if (inRow) {
            inOneRow(key);
        } else {
            inRows(key, rows.get());
        }
        return true;
    }

    private void type(Key key, StringBuilder text) {
        switch (key.kind()) {
            case LETTER -> text.appendCodePoint(key.letter());
            case ERASE -> text.setLength(Math.max(0, text.length() - 1));
            case ENTER -> {
                Rows of = rows.orElseThrow();
                of.search = text.toString();
                of.filter();
                typing = Optional.empty();
            }
            case BACK -> typing = Optional.empty();
            default -> {}
        }
    }

    private void read(List<String> lines) {
        reading = Optional.of(lines);
        readingFrom = 0;
    }

    private void read(Key key, List<String> lines) {
        if (key.kind() == Key.Kind.BACK || key.kind() == Key.Kind.ENTER || key.is('q') || key.is('?') || key.is('c')) {
            reading = Optional.empty();
        } else {
            readingFrom = Math.min(moved(key, readingFrom, lines.size()), Math.max(0, lines.size() - page));
        }
    }

    /** Which columns of the table differ, how often, and what likely made it. */
    private List<String> columns() {
        TableMatch match = tables.get(table);
        FindingFilter one =
                FindingFilter.of(new TableFilter(List.of(new Glob(Glob.escaped(match.name()))), List.of(), List.of()));
        List<ColumnCauses> causes = redaction.ofColumns(ColumnCauses.of(run, one));
        return causes.isEmpty()
                ? List.of("no changed row in " + match.name())
                : ColumnText.lines(causes, style, columns);
    }

    private void inTables(Key key) {
        table = moved(key, table, tables.size());
        if (key.kind() == Key.Kind.ENTER && !tables.isEmpty()) {
            rows = Optional.of(new Rows(FindingIndex.of(run, tables.get(table))));
        }
    }

    private void inRows(Key key, Rows of) {
        of.at = moved(key, of.at, of.places.length);
        if (key.kind() == Key.Kind.BACK || key.is('q')) {
            of.index.close();
            rows = Optional.empty();
        } else if (of.places.length > 0 && key.kind() == Key.Kind.ENTER) {
            inRow = true;
            detailFrom = 0;
        } else if (of.places.length > 0 && key.is(' ')) {
            marks.flip(tables.get(table), of.places[of.at]);
            of.at = Math.min(of.at + 1, of.places.length - 1);
        } else if (key.is('a')) {
            marks.flipAll(tables.get(table), of.places);
        } else if (key.is('f')) {
            FindingKind[] kinds = FindingKind.values();
            int next = of.kind.map(k -> k.ordinal() + 1).orElse(0);
            of.kind = next < kinds.length ? Optional.of(kinds[next]) : Optional.empty();
            of.filter();
        } else if (key.is('/')) {
            typing = Optional.of(new StringBuilder());
        }
    }

    private void inOneRow(Key key) {
        Rows of = rows.orElseThrow();
        if (key.kind() == Key.Kind.BACK || key.kind() == Key.Kind.ENTER || key.is('q')) {
            inRow = false;
        } else if (key.is(' ')) {
            marks.flip(tables.get(table), of.places[of.at]);
        } else if (key.is('n') && of.at + 1 < of.places.length) {
            of.at++;
            detailFrom = 0;
        } else if (key.is('p') && of.at > 0) {
            of.at--;
            detailFrom = 0;
        } else {
            detailFrom = moved(key, detailFrom, Integer.MAX_VALUE);
        }
    }

    private int moved(Key key, int at, int size) {
        Key.Kind kind = key.is('j')
                ? Key.Kind.DOWN
                : key.is('k') ? Key.Kind.UP : key.is('g') ? Key.Kind.HOME : key.is('G') ? Key.Kind.END : key.kind();
        int to = switch (kind) {
            case UP -> at - 1;
            case DOWN -> at + 1;
            case PAGE_UP -> at - page;
            case PAGE_DOWN -> at + page;
            case HOME -> 0;
            case END -> size - 1;
            default -> at;
        };
        return Math.max(0, Math.min(to, size - 1));
    }

    private void save() {
        if (marks.count() == 0) {
            said = "nothing is marked yet: the space bar marks a row";
            return;
        }
        try {
            said = Figures.count(marks.save(run, selection), "row") + " saved: sharp-tally script " + run.folder()
                    + " --selection " + selection;
        } catch (ToolException e) {
            said = e.getMessage();
        }
    }

    /** The screen as lines, as many as it has, none wider than it. */
    public List<String> lines(int width, int height) {
        page = Math.max(1, height - FRAME);
        columns = width;
        List<String> lines = new ArrayList<>();
        String verdict = VerdictText.lines(HiddenRun.of(run.summary(), redaction)).stream()
                .reduce((a, b) -> b)
                .orElse("");
        lines.add(style.paint(TextWidth.cut("run " + run.summary().run() + "  " + verdict, width), Meaning.HEADING));
        lines.add(
                rows.isEmpty()
                        ? ""
                        : TextWidth.cut(TextWidth.harmless(tables.get(table).name()), width));
        List<String> body = reading.map(whole -> whole.subList(Math.min(readingFrom, whole.size()), whole.size()))
                .orElseGet(() -> rows.isEmpty() ? tables() : inRow ? row(width) : list(width, rows.get()));
        body.stream().limit(page).forEach(lines::add);
        while (lines.size() < height - 2) {
            lines.add("");
        }
        String last = leaving
                ? Figures.count(marks.count(), "marked row")
                        + " not saved: s saves, q leaves without, any other key stays"
                : typing.map(t -> "search: " + t + "_").orElse(said.isEmpty() ? status() : said);
        lines.add(TextWidth.cut(last, width));
        lines.add(style.paint(TextWidth.cut(help(), width), Meaning.QUIET));
        return lines;
    }

    private String status() {
        String marked = marks.count() == 0 ? "" : Figures.count(marks.count()) + " marked  ";
        return rows.map(of -> marked
                        + (of.places.length == 0
                                ? "no such row"
                                : Figures.count(of.at + 1) + " of " + Figures.count(of.places.length))
                        + of.kind.map(k -> "  only " + k.word()).orElse("")
                        + (of.search.isEmpty() ? "" : "  with '" + TextWidth.harmless(of.search) + "'"))
                .orElse(marked + Figures.count(tables.size(), "table"));
    }

    private String help() {
        return reading.isPresent()
                ? "up/down scroll  esc back"
                : rows.isEmpty()
                        ? "up/down move  enter rows of the table  c columns  s save marks  ? help  q end"
                        : inRow
                                ? "n/p next, previous  space mark  up/down scroll  ? help  esc back"
                                : "enter whole row  space mark  a all  f kind  / search  c columns  s save  ? help  esc back";
    }

    private List<String> tables() {
        TextTable list =
                new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.RIGHT);
        list.heading("", "table", "verdict", "changed", "missing", "extra", "repeated");
        firstTable = window(table, firstTable, tables.size(), page - 1);
        for (int i = firstTable; i < Math.min(tables.size(), firstTable + page - 1); i++) {
            MatchSummary of = run.summaryOf(tables.get(i)).orElseThrow();
            list.row(List.of(
                    Cell.of(i == table ? ">" : " "),
                    Cell.of(TextWidth.cut(TextWidth.harmless(of.name()), MAX_NAME)),
                    verdict(of),
                    count(of.changed(), Meaning.CHANGED),
                    count(of.missing(), Meaning.MISSING),
                    count(of.extra(), Meaning.EXTRA),
                    count(of.repeated(), Meaning.REPEATED)));
        }
        return list.lines(style);
    }

    private static Cell verdict(MatchSummary of) {
        return new Cell(VerdictText.word(of), of.exitCode() == 0 ? Meaning.GOOD : Meaning.CHANGED);
    }

    private static Cell count(long number, Meaning meaning) {
        return new Cell(Figures.count(number), number == 0 ? Meaning.QUIET : meaning);
    }

    /** The rows, and where the screen is wide the whole row that is chosen beside them. */
    private List<String> list(int width, Rows of) {
        if (width < WIDE || of.places.length == 0) {
            return rows(width, of);
        }
        int left = width / 2;
        List<String> list = rows(left, of);
        List<String> whole = row(width - left - BETWEEN.length());
        List<String> both = new ArrayList<>();
        for (int i = 0; i < page; i++) {
            String line = i < list.size() ? list.get(i) : "";
            String other = i < whole.size() ? whole.get(i) : "";
            int gap = Math.max(0, left - TextWidth.of(line.replaceAll("\u001b\\[[0-9;]*m", "")));
            both.add(line + " ".repeat(gap) + style.paint(BETWEEN, Meaning.QUIET) + other);
        }
        return both;
    }

    private List<String> rows(int width, Rows of) {
        of.first = window(of.at, of.first, of.places.length, page - 1);
        TextTable list = new TextTable(Align.LEFT, Align.LEFT, Align.LEFT, Align.LEFT);
        list.heading("", "kind", "key", "what differs");
        TableMatch match = tables.get(table);
        List<Finding> shown = new ArrayList<>();
        for (int i = of.first; i < Math.min(of.places.length, of.first + page - 1); i++) {
            shown.add(redaction.of(of.index.get(of.places[i])));
        }
        int keys = shown.stream().mapToInt(f -> TextWidth.of(key(f))).max().orElse(0);
        for (int i = 0; i < shown.size(); i++) {
            Finding finding = shown.get(i);
            int place = of.first + i;
            String key = key(finding);
            String what = TextWidth.cut(FindingList.summary(match, finding), Math.max(10, width - keys - 16));
            list.row(List.of(
                    Cell.of((place == of.at ? ">" : " ") + (marks.has(match, of.places[place]) ? "*" : " ")),
                    new Cell(
                            finding.kind().word(), Meaning.ofKind(finding.kind().word())),
                    Cell.of(key),
                    Cell.of(what)));
        }
        return list.lines(style);
    }

    private static String key(Finding finding) {
        return TextWidth.cut(TextWidth.harmless(FindingFilter.keyText(finding.key())), MAX_KEY);
    }

    private List<String> row(int width) {
        Rows of = rows.orElseThrow();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        FindingList.detail(tables.get(table), of.index.get(of.places[of.at]), redaction, style, width, out);
        List<String> lines = out.toString(StandardCharsets.UTF_8).lines().toList();
        detailFrom = Math.max(0, Math.min(detailFrom, lines.size() - 1));
        List<String> shown = new ArrayList<>(lines.subList(detailFrom, lines.size()));
        if (marks.has(tables.get(table), of.places[of.at]) && !shown.isEmpty()) {
            shown.set(0, "* " + shown.get(0));
        }
        return shown;
    }

    /** The first line of a list such that the chosen one is on the screen. */
    private static int window(int at, int first, int size, int page) {
        int from = Math.min(first, at);
        from = Math.max(from, at - page + 1);
        return Math.max(0, Math.min(from, Math.max(0, size - 1)));
    }

    @Override
    public void close() {
        rows.ifPresent(of -> of.index.close());
    }
}
