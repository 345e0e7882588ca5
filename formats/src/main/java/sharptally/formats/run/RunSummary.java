package sharptally.formats.run;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsResult;

/**
 * What {@code run.json} holds; its form is described in {@code docs/run-folder.md}.
 *
 * @param format version of the form
 * @param run name of the run: its folder's name
 * @param started when, as an ISO instant
 * @param sheet whole path of the sheet that it was made by
 * @param source the source place as the user named it, never with a password
 * @param sourceAddress where that is
 * @param sourceProduct product and version, as the place reports them
 * @param matches those whose rows were compared
 * @param sourceOnly tables that have no counterpart
 * @param notes what is worth knowing of the run as a whole
 * @param totals of matches whose totals were held against each other
 * @param narrowed what kept rows from being compared, as the user wanted it
 * @param checks what was expected of figures of one side
 */
public record RunSummary(
        int format,
        String tool,
        String run,
        RunState state,
        String started,
        double seconds,
        Optional<String> sheet,
        String source,
        String sourceAddress,
        String sourceProduct,
        String target,
        String targetAddress,
        String targetProduct,
        List<MatchSummary> matches,
        List<String> sourceOnly,
        List<String> targetOnly,
        List<String> notes,
        List<TotalsResult> totals,
        List<CheckResult> checks,
        List<String> narrowed) {
    public static final int FORMAT = 2;

    /** What the names of findings files have in them that are of a later look. */
    static final String RECHECKED = ".again-";

    public RunSummary {
        matches = List.copyOf(matches);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
        notes = List.copyOf(notes);
        totals = List.copyOf(totals);
        checks = List.copyOf(checks);
        narrowed = narrowed == null ? List.of() : List.copyOf(narrowed);
    }

    /** The same with other findings, and something more worth knowing. */
    public RunSummary with(List<MatchSummary> others, String note) {
        List<String> more = new java.util.ArrayList<>(notes);
        more.add(note);
        return with(others, more, totals, checks, narrowed);
    }

    /** The same run with other details. */
    public RunSummary with(
            List<MatchSummary> otherMatches,
            List<String> otherNotes,
            List<TotalsResult> otherTotals,
            List<CheckResult> otherChecks,
            List<String> otherNarrowed) {
        return new RunSummary(
                format,
                tool,
                run,
                state,
                started,
                seconds,
                sheet,
                source,
                sourceAddress,
                sourceProduct,
                target,
                targetAddress,
                targetProduct,
                otherMatches,
                sourceOnly,
                targetOnly,
                otherNotes,
                otherTotals,
                otherChecks,
                otherNarrowed);
    }

    /** Whether the findings are those of a later look at the rows, and not of the comparison itself. */
    public boolean isRechecked() {
        return matches.stream().anyMatch(m -> m.findings().contains(RECHECKED));
    }

    /** Whether it is of the same sheet, or where there is none, of the same two places. */
    public boolean isOfSameJob(RunSummary other) {
        return sheet.isPresent()
                ? sheet.equals(other.sheet)
                : other.sheet.isEmpty()
                        && sourceAddress.equals(other.sourceAddress)
                        && targetAddress.equals(other.targetAddress);
    }

    /** Rows that differ, of all matches, and figures that do. */
    public long differences() {
        return matches.stream().mapToLong(MatchSummary::differences).sum()
                + totals.stream().mapToLong(TotalsResult::broken).sum()
                + checks.stream().filter(c -> !c.held()).count();
    }

    /** Whether a figure differs, or is not as it was expected. */
    public boolean figuresDiffer() {
        return totals.stream().anyMatch(t -> t.broken() > 0) || checks.stream().anyMatch(c -> !c.held());
    }

    /** Whether tables or columns are on one side only, or are declared otherwise. */
    public boolean shapesDiffer() {
        return !sourceOnly.isEmpty()
                || !targetOnly.isEmpty()
                || matches.stream().anyMatch(m -> !m.shape().isEmpty());
    }

    /** 0 same, 1 differences, otherwise what kept the run from proving anything. */
    public int exitCode() {
        if (state == RunState.INCOMPLETE && matches.stream().allMatch(m -> m.state() == RunState.COMPLETE)) {
            return sharptally.core.fault.ErrorKind.INCOMPLETE.exitCode();
        }
        return matches.stream()
                .map(MatchSummary::exitCode)
                .max(Comparator.comparing(code -> code <= 1 ? code : 100 - code))
                .filter(code -> code > 0)
                .orElse(figuresDiffer() ? 1 : 0);
    }
}
