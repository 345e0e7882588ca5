package sharptally.report;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsLine;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.Style;
import sharptally.report.text.TotalsText;

/** What totals look like on a terminal, to the letter. */
class TotalsTextTest {
    private static RunSummary run(List<TotalsResult> totals, List<CheckResult> checks) {
        return new RunSummary(
                RunSummary.FORMAT,
                "test",
                "now",
                RunState.COMPLETE,
                "2026-01-01T00:00:00Z",
                1,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                new RunSummary.Database("sqlite:a", "sqlite:a", "SQLite", "main", Map.of(), true),
                new RunSummary.Database("h2:b", "h2:b", "H2", "PUBLIC", Map.of(), true),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                totals,
                checks,
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false);
    }

    private static TotalsLine line(List<String> group, String column, String measure, String source, String target) {
        boolean held = source.equals(target);
        return new TotalsLine(
                group,
                column,
                measure,
                source.equals("-") ? Optional.empty() : Optional.of(source),
                target.equals("-") ? Optional.empty() : Optional.of(target),
                held || !source.matches("\\d+") || !target.matches("\\d+")
                        ? Optional.empty()
                        : Optional.of(Long.toString(Long.parseLong(target) - Long.parseLong(source))),
                held);
    }

    private static TotalsResult totals(
            String match, List<String> by, long groups, List<TotalsLine> lines, String... leftOut) {
        long broken = lines.stream().filter(l -> !l.held()).count();
        return new TotalsResult(
                match, match, match.toUpperCase(), by, groups, lines.size(), broken, lines, List.of(leftOut));
    }

    @Test
    void figuresThatDifferAreListedWithBothSidesAndTheDifference() {
        RunSummary run = run(
                List.of(
                        totals(
                                "station",
                                List.of(),
                                1,
                                List.of(
                                        line(List.of(), "", "rows", "1024", "1025"),
                                        line(List.of(), "name", "max", "'Łeba'", "'灯台岬'"),
                                        line(List.of(), "id", "sum", "7", "7")),
                                "min, max of note: it is compared by rule case"),
                        totals(
                                "reading",
                                List.of("code", "taken_at:month"),
                                12,
                                List.of(
                                        line(List.of("TG01", "2026-01"), "", "rows", "9", "8"),
                                        line(List.of("TX\u001b[31m", "2026-02"), "", "rows", "-", "3")))),
                List.of(
                        new CheckResult("target", "station", "rows >= 1000", Optional.of("1025"), true),
                        new CheckResult("source", "station", "max(id) < 5", Optional.empty(), false)));
        assertThat(TotalsText.lines(run, Style.PLAIN, 160, false))
                .containsExactly(
                        "table    source rows  target rows  groups  figures  differ",
                        "station        1,024        1,025       -        3       2",
                        "reading            -            -      12        2       2",
                        "",
                        "station    source    target  difference",
                        "rows         1024      1025          +1",
                        "max(name)  'Łeba'  '灯台岬'     differs",
                        "left out: min, max of note: it is compared by rule case",
                        "",
                        "reading  code, taken_at:month   source  target   difference",
                        "rows     TG01, 2026-01               9       8           -1",
                        "rows     TX\\u{1b}[31m, 2026-02       -       3  target only",
                        "",
                        "          table             expected      found",
                        "held      station           rows >= 1000   1025",
                        "not held  station (source)  max(id) < 5       -",
                        "");
        assertThat(TotalsText.verdict(run, Style.PLAIN))
                .isEqualTo("totals differ: 4 of 5 figures differ; 1 of 2 expectations not held");
        assertThat(run.exitCode()).isEqualTo(1);
        assertThat(TotalsText.lines(run, Style.PLAIN, 160, true))
                .anyMatch(l -> l.startsWith("sum(id)") && l.endsWith("same"));
    }

    @Test
    void whatHoldsIsNotCalledProved() {
        RunSummary run = run(
                List.of(totals("a", List.of(), 1, List.of(line(List.of(), "", "rows", "5", "5")))),
                List.of(new CheckResult("target", "a", "rows = 5", Optional.of("5"), true)));
        assertThat(TotalsText.verdict(run, Style.PLAIN))
                .isEqualTo("totals agree: the one figure is the same; 1 expectation held (rows were not compared)");
        assertThat(run.exitCode()).isZero();
    }

    @Test
    void longListsAreCutAndSaySo() {
        List<TotalsLine> lines = new ArrayList<>();
        for (int i = 0; i < 100; i++) {
            lines.add(line(List.of("g" + i), "", "rows", "1", "2"));
        }
        List<String> shown = TotalsText.lines(
                run(List.of(totals("a", List.of("g"), 100, lines)), List.of()), Style.PLAIN, 160, false);
        assertThat(shown).hasSize(66).contains("and 40 more figures, all in run.json");
    }
}
