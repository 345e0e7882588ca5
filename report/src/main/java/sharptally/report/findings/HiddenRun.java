package sharptally.report.findings;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsLine;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.run.ColumnSummary;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunSummary;

/**
 * The summary of a run as {@link Redaction} lets it be told: counts, names, shapes and verdicts stay; examples, keys,
 * figures made of values, and sentences that may name values do not.
 */
public final class HiddenRun {
    private static final Set<String> COUNTS = Set.of("rows", "filled", "nulls", "distinct");
    private static final String HIDDEN = "hidden";

    private final Redaction redaction;

    private HiddenRun(Redaction redaction) {
        this.redaction = redaction;
    }

    /** The summary itself where nothing is to be hidden. */
    public static RunSummary of(RunSummary run, Redaction redaction) {
        return redaction.isHiding() ? new HiddenRun(redaction).of(run) : run;
    }

    private RunSummary of(RunSummary run) {
        List<String> notes = new ArrayList<>(List.of("values are hidden, and notes that may name some"));
        RunSummary told = run.accepting(run.accepted().stream()
                .map(a -> new RunSummary.Accepted(a.table(), HIDDEN, HIDDEN, a.owner(), a.until(), a.rows(), a.state()))
                .toList());
        return told.telling(run.unmet().stream()
                        .map(u -> new RunSummary.Unmet(
                                u.side(),
                                u.table(),
                                u.what().replaceFirst(" is -?\\d+, the greatest there is .*", " is behind"),
                                u.rows(),
                                List.of(),
                                u.mend()))
                        .toList())
                .with(
                        run.matches().stream().map(this::of).toList(),
                        notes,
                        run.totals().stream().map(this::of).toList(),
                        run.checks().stream().map(HiddenRun::of).toList(),
                        run.narrowed().isEmpty()
                                ? List.of()
                                : List.of("only some rows were compared; by what they were chosen is hidden"));
    }

    private MatchSummary of(MatchSummary match) {
        return match.with(
                match.differing().stream().map(this::of).toList(),
                List.of(),
                match.failure().map(reason -> "the reason is hidden"),
                match.damage().stream()
                        .map(c -> new DifferenceHistogram.Cell(redaction.of(c.from()), c.rows(), c.differing()))
                        .toList(),
                match.narrowed().isEmpty() ? List.of() : List.of("only some rows; by what they were chosen is hidden"));
    }

    private ColumnSummary of(ColumnSummary column) {
        return new ColumnSummary(
                column.column(),
                column.rows(),
                column.examples().stream()
                        .map(e -> new ColumnSummary.Example(
                                e.key().stream().map(redaction::of).toList(),
                                redaction.ofShown(e.source()),
                                redaction.ofShown(e.target())))
                        .toList());
    }

    private TotalsResult of(TotalsResult totals) {
        return new TotalsResult(
                totals.match(),
                totals.source(),
                totals.target(),
                totals.by(),
                totals.groups(),
                totals.figures(),
                totals.differing(),
                totals.lines().stream().map(this::of).toList(),
                totals.leftOut());
    }

    private TotalsLine of(TotalsLine line) {
        boolean count = COUNTS.contains(line.measure());
        return new TotalsLine(
                line.group().stream().map(redaction::of).toList(),
                line.column(),
                line.measure(),
                count ? line.source() : line.source().map(v -> HIDDEN),
                count ? line.target() : line.target().map(v -> HIDDEN),
                count ? line.difference() : Optional.empty(),
                line.held());
    }

    private static CheckResult of(CheckResult check) {
        return new CheckResult(
                check.side(),
                check.table(),
                check.expected().replaceFirst("\\s*[<>=!].*", ""),
                check.found().map(v -> HIDDEN),
                check.held());
    }
}
