package sharptally.report;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.core.place.Side;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.LoneSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RuleSummary;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Figures;
import sharptally.report.text.RunText;
import sharptally.report.text.Style;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;
import sharptally.report.text.VerdictText;

/** Results as lines: aligned, harmless, and honest about what was not proved. */
class TextTest {
    @ParameterizedTest
    @CsvSource({"abc, 3", "灯台, 4", "e\u0301, 1", "🌊, 2", "'', 0"})
    void widthIsThatOnATerminal(String text, int columns) {
        assertThat(TextWidth.of(text)).isEqualTo(columns);
    }

    @Test
    void cuttingNeverSplitsALetterAndKeepsToTheWidth() {
        assertThat(TextWidth.cut("abcdef", 6)).isEqualTo("abcdef");
        assertThat(TextWidth.cut("abcdef", 4)).isEqualTo("abc…");
        assertThat(TextWidth.cut("灯台岬", 4)).isEqualTo("灯…");
        assertThat(TextWidth.cut("🌊🌊🌊", 5)).isEqualTo("🌊🌊…");
    }

    @Test
    void valuesCannotSteerTheTerminal() {
        String hostile = "a\u001b[31mred\u0007\u009b2J\u202Eevil\u2028x\ny";
        assertThat(TextWidth.harmless(hostile)).isEqualTo("a\\u{1b}[31mred\\u{7}\\u{9b}2J\\u{202e}evil\\u{2028}x\\ny");
    }

    @Test
    void columnsAlignWhateverTheLetters() {
        List<String> lines = new TextTable(Align.LEFT, Align.RIGHT)
                .heading("name", "rows")
                .row(List.of(Cell.of("灯台"), Cell.of("7")))
                .row(List.of(Cell.of("e\u0301"), Cell.of("1,200")))
                .lines(Style.PLAIN);
        assertThat(lines).containsExactly("name   rows", "灯台      7", "e\u0301     1,200");
        assertThat(lines).extracting(TextWidth::of).containsOnly(11);
    }

    @Test
    void figuresAreTheSameInEveryLocale() {
        assertThat(Figures.count(1_234_567, "row")).isEqualTo("1,234,567 rows");
        assertThat(Figures.count(1, "row")).isEqualTo("1 row");
        assertThat(Figures.seconds(0.123)).isEqualTo("0.12 s");
        assertThat(Figures.seconds(185)).isEqualTo("3 min 05 s");
        assertThat(Figures.share(1, 100_000)).isEqualTo("< 0.1 %");
        assertThat(Figures.share(0, 0)).isEqualTo("-");
        assertThat(Figures.bytes(9_876_543)).isEqualTo("9.9 MB");
    }

    private static MatchSummary match(
            String table,
            long same,
            long changed,
            long missing,
            List<String> notCompared,
            Optional<String> failure,
            int code) {
        return new MatchSummary(
                table,
                table,
                table.toUpperCase(),
                failure.isEmpty() ? RunState.COMPLETE : RunState.INCOMPLETE,
                "stream",
                0.5,
                List.of("id"),
                3,
                same + changed + missing,
                same + changed,
                same,
                changed,
                missing,
                0,
                0,
                changed > 0
                        ? List.of(new ColumnSummary(
                                "name",
                                changed,
                                List.of(
                                        new ColumnSummary.Example(List.of("7"), "'a'", "'b'"),
                                        new ColumnSummary.Example(List.of("8"), "NULL", "''"))))
                        : List.of(),
                changed > 0 ? List.of(new RuleSummary("name", "case", 1_204)) : List.of(),
                List.of(),
                List.of(),
                notCompared,
                failure,
                code,
                "findings/" + table + ".jsonl",
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                false,
                changed + missing,
                "",
                List.of(),
                0,
                0,
                Optional.empty(),
                Optional.empty());
    }

    private static RunSummary run(RunState state, MatchSummary... matches) {
        return run(state, List.of(), List.of(), matches);
    }

    private static RunSummary run(
            RunState state, List<LoneSummary> lone, List<String> leftOut, MatchSummary... matches) {
        return new RunSummary(
                RunSummary.FORMAT,
                "test",
                "now",
                state,
                "2026-01-01T00:00:00Z",
                1,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                new RunSummary.Database("sqlite:a", "sqlite:a", "SQLite", "main", Map.of(), true),
                new RunSummary.Database("@b", "h2:b", "H2", "PUBLIC", Map.of(), true),
                List.of(matches),
                lone,
                leftOut,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false);
    }

    private static String verdict(RunSummary run) {
        List<String> lines = VerdictText.lines(run);
        return lines.get(lines.size() - 1);
    }

    @Test
    void verdictSaysSameOnlyOfWhatWasProved() {
        MatchSummary same = match("a", 10, 0, 0, List.of(), Optional.empty(), 0);
        MatchSummary differs = match("b", 10, 2, 1, List.of(), Optional.empty(), 1);
        MatchSummary skipped = match("c", 10, 0, 0, List.of("column x: no way"), Optional.empty(), 5);
        MatchSummary failed = match("d", 0, 0, 0, List.of(), Optional.of("reading was interrupted"), 3);
        assertThat(verdict(run(RunState.COMPLETE, same)))
                .isEqualTo("same: every row of 1 table was compared, nothing differs");
        assertThat(verdict(run(RunState.COMPLETE, same, differs)))
                .isEqualTo("different: 1 of 2 tables same; 2 changed, 1 missing, 0 extra");
        assertThat(verdict(run(RunState.COMPLETE, same, skipped)))
                .startsWith("not proved: 1 of 2 tables same")
                .contains("1 table not proved either way");
        assertThat(verdict(run(RunState.INCOMPLETE, failed))).isEqualTo("nothing was proved");
        assertThat(run(RunState.COMPLETE, same, differs).exitCode()).isEqualTo(1);
        assertThat(run(RunState.COMPLETE, same, differs, skipped).exitCode()).isEqualTo(5);
        assertThat(run(RunState.INCOMPLETE, same, differs, failed, skipped).exitCode())
                .isEqualTo(3);
        assertThat(run(RunState.INCOMPLETE, same).exitCode()).isEqualTo(5);
    }

    @Test
    void tablesOfOneSideAreDifferencesUnlessTheyWereLeftOut() {
        MatchSummary same = match("a", 10, 0, 0, List.of(), Optional.empty(), 0);
        LoneSummary missing = new LoneSummary("gone", Side.SOURCE, 5_000, false, Optional.empty());
        LoneSummary untold = new LoneSummary("hidden", Side.SOURCE, 7, false, Optional.of("no rights"));
        RunSummary lacking = run(RunState.COMPLETE, List.of(missing), List.of(), same);
        assertThat(verdict(lacking))
                .isEqualTo("different: 1 of 1 table same; 0 changed, 0 missing, 0 extra, 1 missing table");
        assertThat(lacking.exitCode()).isEqualTo(1);
        assertThat(lacking.differences()).isEqualTo(1);
        RunSummary hiding = run(RunState.COMPLETE, List.of(untold), List.of(), same);
        assertThat(hiding.exitCode()).isEqualTo(5);
        assertThat(verdict(hiding)).startsWith("not proved: 1 of 1 table same").contains("of 1 table it can't be told");
        RunSummary leftOut = run(RunState.COMPLETE, List.of(), List.of("log"), same);
        assertThat(leftOut.exitCode()).isZero();
        assertThat(verdict(leftOut))
                .isEqualTo("same: every row of 1 table was compared, nothing differs"
                        + " (of 2 tables 1 compared, 1 left out on request)");
    }

    @Test
    void wholeResultReadsAsExpected() {
        MatchSummary differs = match("b", 1_000, 2, 1, List.of("column x: no way"), Optional.empty(), 5);
        MatchSummary failed = match("d", 0, 0, 0, List.of(), Optional.of("reading was interrupted"), 3);
        LoneSummary lone = new LoneSummary("left", Side.TARGET, 7, false, Optional.empty());
        assertThat(RunText.lines(
                        run(RunState.INCOMPLETE, List.of(lone), List.of(), differs, failed), Style.PLAIN, 100, false))
                .containsExactly(
                        "source  sqlite:a  SQLite",
                        "target  @b        H2",
                        "",
                        "table  source rows  target rows   same  changed  missing  extra  method          time",
                        "b            1,003        1,002  1,000        2        1      0  stream        0.50 s",
                        "d                ?            ?      ?        ?        ?      ?  not finished",
                        "left             -            7                                  extra table",
                        "",
                        "notes",
                        "  b: NOT COMPARED: column x: no way",
                        "",
                        "columns that differ  rows  of changed  key  source  target",
                        "b.name                  2     100.0 %  7    'a'     'b'",
                        "                                       8    NULL    ''",
                        "",
                        "the same only by a rule  values  rule",
                        "b.name                    1,204  case",
                        "",
                        "not finished: d: reading was interrupted",
                        "different: 0 of 2 tables same; 2 changed, 1 missing, 0 extra, 1 extra table;"
                                + " 2 tables not proved either way");
    }

    /** Of many tables those are told that differ; the others are one line, unless all are asked for. */
    @Test
    void tablesThatAreTheSameAreFoldedWhereTheyAreMany() {
        List<MatchSummary> all = new ArrayList<>();
        for (int i = 0; i < 30; i++) {
            all.add(match("t" + i, 10, i == 20 ? 1 : 0, 0, List.of(), Optional.empty(), i == 20 ? 1 : 0));
        }
        all.add(match("broken", 0, 0, 0, List.of(), Optional.of("reading was interrupted"), 3));
        RunSummary run = run(RunState.INCOMPLETE, all.toArray(new MatchSummary[0]));
        List<String> lines = RunText.lines(run, Style.PLAIN, 120, false);
        assertThat(lines.subList(4, 7)).allMatch(line -> line.matches("(t20|broken|29 tables the same) .*"));
        assertThat(lines.get(6)).matches("29 tables the same +290 +290 +290 +0 +0 +0  --all +14\\.5 s");
        assertThat(RunText.lines(run, Style.PLAIN, 120, true))
                .filteredOn(line -> line.matches("t\\d+ .*"))
                .hasSize(30);
    }
}
