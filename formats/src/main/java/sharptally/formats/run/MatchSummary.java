package sharptally.formats.run;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;
import sharptally.core.accept.AtMost;
import sharptally.core.compare.Counts;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.run.Recheck;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.range.DifferenceHistogram;

/**
 * One match in {@code run.json}.
 *
 * @param name by which it goes in filters and files
 * @param key source names of the key's columns; empty where whole rows were counted
 * @param columns how many columns were compared
 * @param differing the columns in which changed rows differ, most first
 * @param sameByRule values that are the same only by a rule
 * @param shape how the shapes of the two tables differ
 * @param notes what else is worth knowing
 * @param notCompared columns that should have been compared and were not, with the reason
 * @param failure why the match was not compared to its end
 * @param exitCode what this match alone would make the program exit with
 * @param findings the file of findings, relative to the run folder
 * @param missingColumns columns that the source alone has, and that were not left out on request
 * @param extraColumns the same of the target
 * @param leftOut columns that were left out on request
 * @param narrowed why not all rows were compared, a sentence each; empty where all were
 * @param emptied whether what narrowed it left no row on either side, and nobody had said that this may be
 * @param lines of the file of findings
 * @param digest of the file of findings: SHA-256 in hexadecimal digits
 * @param damage where in the key range rows differ; empty where there is no key
 * @param accepted how many of the differing rows are accepted for now
 * @param moving how many of the keys that differ kept changing while they were looked at
 * @param atMost how many rows beside these may differ, as the job file says it; empty for none
 * @param partitionOf the match of all partitions, where it is of one of them
 */
public record MatchSummary(
        String name,
        String source,
        String target,
        RunState state,
        String method,
        double seconds,
        List<String> key,
        int columns,
        long sourceRows,
        long targetRows,
        long same,
        long changed,
        long missing,
        long extra,
        long repeated,
        List<ColumnSummary> differing,
        List<RuleSummary> sameByRule,
        List<String> shape,
        List<String> notes,
        List<String> notCompared,
        Optional<String> failure,
        int exitCode,
        String findings,
        List<String> missingColumns,
        List<String> extraColumns,
        List<String> leftOut,
        List<String> narrowed,
        boolean emptied,
        long lines,
        String digest,
        List<DifferenceHistogram.Cell> damage,
        long accepted,
        long moving,
        Optional<String> atMost,
        Optional<String> partitionOf) {
    public MatchSummary {
        partitionOf = partitionOf == null ? Optional.empty() : partitionOf;
        damage = damage == null ? List.of() : List.copyOf(damage);
        atMost = atMost == null ? Optional.empty() : atMost;
    }

    /**
     * What a run keeps of a match in words, a sentence each.
     *
     * @param shape how the shapes of the two tables differ
     * @param notCompared columns that should have been compared and were not, with the reason
     * @param notes what else is worth knowing
     * @param narrowed why not all rows of the tables are compared
     */
    public record Words(List<String> shape, List<String> notCompared, List<String> notes, List<String> narrowed) {
        static final Words NONE = new Words(List.of(), List.of(), List.of(), List.of());
    }

    /**
     * @param words what is kept of the match in words
     * @param narrowedBy what kept rows from being compared, beside the match's own conditions
     * @param allowEmpty whether no row at all may be left by that
     * @param file the file of findings
     */
    public static MatchSummary of(
            MatchResult result, Words words, List<String> narrowedBy, boolean allowEmpty, FindingsFile file) {
        TableMatch match = result.match();
        Counts counts = result.outcome().map(Outcome::counts).orElseGet(Counts::none);
        List<String> notes = new java.util.ArrayList<>(words.notes());
        result.outcome().ifPresent(o -> notes.addAll(o.remarks()));
        List<String> narrowed = new java.util.ArrayList<>(words.narrowed());
        narrowed.addAll(narrowedBy);
        boolean emptied = result.outcome().isPresent()
                && !narrowed.isEmpty()
                && !allowEmpty
                && counts.sourceRows() == 0
                && counts.targetRows() == 0;
        return new MatchSummary(
                match.name(),
                match.source().name().toString(),
                match.target().name().toString(),
                result.outcome().isPresent() ? RunState.COMPLETE : RunState.INCOMPLETE,
                result.outcome().map(Outcome::method).orElse("none"),
                result.outcome().map(o -> o.elapsed().toMillis() / 1000.0).orElse(0.0),
                match.keyPairs().stream().map(ColumnPair::name).toList(),
                match.pairs().size(),
                counts.sourceRows(),
                counts.targetRows(),
                counts.same(),
                counts.of(FindingKind.CHANGED),
                counts.of(FindingKind.MISSING),
                counts.of(FindingKind.EXTRA),
                counts.of(FindingKind.REPEATED),
                differing(match, counts),
                sameByRule(match, counts),
                words.shape(),
                notes,
                words.notCompared(),
                result.failure().map(ToolException::getMessage),
                exitCode(result, counts, emptied || !words.notCompared().isEmpty()),
                file.name(),
                lone(match, Side.SOURCE),
                lone(match, Side.TARGET),
                match.leftOut(),
                narrowed,
                emptied,
                file.lines(),
                file.digest(),
                result.outcome().map(Outcome::damage).orElse(List.of()),
                0,
                0,
                Optional.empty(),
                match.partitionOf());
    }

    /**
     * The same after its differing rows were looked at again.
     *
     * @param file where the findings of now are
     * @param damageLeft where in the key range rows still differ
     */
    public MatchSummary after(
            TableMatch match, Recheck.Result again, FindingsFile file, List<DifferenceHistogram.Cell> damageLeft) {
        Counts now = again.found().counts();
        Counts all = again.whole()
                ? now
                : new Counts(
                        sourceRows - again.sourceRowsBefore() + now.sourceRows(),
                        targetRows - again.targetRowsBefore() + now.targetRows(),
                        same - again.sameBefore() + now.same(),
                        now.findings(),
                        now.perPair());
        Outcome outcome = new Outcome(all, method, again.found().elapsed(), List.of(), false, damageLeft);
        MatchSummary fresh = of(
                new MatchResult(match, Optional.of(outcome), Optional.empty()), Words.NONE, narrowed, !emptied, file);
        Details details = new Details(
                fresh.differing, again.whole() ? fresh.sameByRule : sameByRule, notes, failure, damageLeft, narrowed);
        return like(fresh, details);
    }

    /** The same counts with other details. */
    public MatchSummary with(
            List<ColumnSummary> otherDiffering,
            List<String> otherNotes,
            Optional<String> otherFailure,
            List<DifferenceHistogram.Cell> otherDamage,
            List<String> otherNarrowed) {
        return like(
                this, new Details(otherDiffering, sameByRule, otherNotes, otherFailure, otherDamage, otherNarrowed));
    }

    /** What stands beside the counts, and may hold values of rows. */
    private record Details(
            List<ColumnSummary> differing,
            List<RuleSummary> sameByRule,
            List<String> notes,
            Optional<String> failure,
            List<DifferenceHistogram.Cell> damage,
            List<String> narrowed) {}

    /** The same match with the counts, verdict and file of another summary. */
    private MatchSummary like(MatchSummary counted, Details other) {
        return new MatchSummary(
                name,
                source,
                target,
                state,
                method,
                seconds,
                key,
                columns,
                counted.sourceRows,
                counted.targetRows,
                counted.same,
                counted.changed,
                counted.missing,
                counted.extra,
                counted.repeated,
                other.differing,
                other.sameByRule,
                shape,
                other.notes,
                notCompared,
                other.failure,
                counted.exitCode,
                counted.findings,
                missingColumns,
                extraColumns,
                leftOut,
                other.narrowed,
                counted.emptied,
                counted.lines,
                counted.digest,
                other.damage,
                counted.accepted,
                counted.moving,
                atMost,
                partitionOf);
    }

    /** The same with some of its keys moving, so that nothing is proved of them. */
    public MatchSummary moving(long keys) {
        return counted(accepted, keys, atMost, keys > 0 && exitCode <= 1 ? ErrorKind.INCOMPLETE.exitCode() : exitCode);
    }

    /**
     * The same with some of its differing rows accepted, which decides what it makes the program exit with.
     *
     * @param rows how many are accepted
     * @param allowed how many others there may be
     */
    public MatchSummary accepting(long rows, Optional<AtMost> allowed) {
        int code = differences() > 0 && exitCode == 0 ? 1 : exitCode;
        boolean fine = missingColumns.isEmpty()
                && extraColumns.isEmpty()
                && staysWithinAllowance(differences() - rows, allowed);
        return counted(rows, moving, allowed.map(AtMost::toString), code == 1 && fine ? 0 : code);
    }

    private MatchSummary counted(long nowAccepted, long nowMoving, Optional<String> nowAtMost, int code) {
        return new MatchSummary(
                name,
                source,
                target,
                state,
                method,
                seconds,
                key,
                columns,
                sourceRows,
                targetRows,
                same,
                changed,
                missing,
                extra,
                repeated,
                differing,
                sameByRule,
                shape,
                notes,
                notCompared,
                failure,
                code,
                findings,
                missingColumns,
                extraColumns,
                leftOut,
                narrowed,
                emptied,
                lines,
                digest,
                damage,
                nowAccepted,
                nowMoving,
                nowAtMost,
                partitionOf);
    }

    private static List<String> lone(TableMatch match, Side side) {
        return match.lone().stream()
                .filter(c -> c.side() == side)
                .map(ShapeDifference.OnOneSide::column)
                .toList();
    }

    private static int exitCode(MatchResult result, Counts counts, boolean unproved) {
        if (result.failure().isPresent()) {
            return result.failure().get().kind().exitCode();
        }
        if (result.outcome().orElseThrow().mistrusted()) {
            return ErrorKind.BUG.exitCode();
        }
        if (!result.proved() || unproved) {
            return ErrorKind.INCOMPLETE.exitCode();
        }
        return counts.nothingDiffers() && result.match().lone().isEmpty() ? 0 : 1;
    }

    private static List<ColumnSummary> differing(TableMatch match, Counts counts) {
        return IntStream.range(0, counts.perPair().size())
                .boxed()
                .flatMap(i ->
                        ColumnSummary.of(match.pairs().get(i), counts.perPair().get(i)).stream())
                .sorted(Comparator.comparing(ColumnSummary::rows).reversed())
                .toList();
    }

    private static List<RuleSummary> sameByRule(TableMatch match, Counts counts) {
        return IntStream.range(0, counts.perPair().size())
                .boxed()
                .flatMap(i -> new TreeMap<>(counts.perPair().get(i).sameByRule())
                        .entrySet().stream()
                                .map(rule ->
                                        new RuleSummary(match.pairs().get(i).name(), rule.getKey(), rule.getValue())))
                .toList();
    }

    public long differences() {
        return changed + missing + extra + repeated;
    }

    private boolean staysWithinAllowance(long others, Optional<AtMost> allowed) {
        return others == 0
                || allowed.filter(a -> a.allows(others, sourceRows, targetRows)).isPresent();
    }

    /** Whether all rows that differ are accepted, or no more are than may be. */
    public boolean staysWithinAllowance() {
        return staysWithinAllowance(unaccepted(), atMost.flatMap(AtMost::parse));
    }

    /** Rows that differ and are not accepted. */
    public long unaccepted() {
        return differences() - accepted;
    }

    /** Whether it was compared whole and nothing differs, accepted or not. */
    public boolean nothingDiffers() {
        return exitCode == 0 && differences() == 0;
    }
}
