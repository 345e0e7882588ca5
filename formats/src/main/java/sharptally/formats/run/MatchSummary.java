package sharptally.formats.run;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;
import sharptally.core.compare.Counts;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Recheck;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.range.Damage;

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
 * @param damage where in the key range rows differ; empty where there is no key
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
        List<Damage.Cell> damage) {
    public MatchSummary {
        damage = damage == null ? List.of() : List.copyOf(damage);
    }

    public static MatchSummary of(MatchResult result, String findings) {
        TableMatch match = result.match();
        Counts counts = result.outcome().map(Outcome::counts).orElseGet(Counts::none);
        List<String> notes = new java.util.ArrayList<>(match.notes());
        result.outcome().ifPresent(o -> notes.addAll(o.remarks()));
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
                match.shape(),
                notes,
                match.notCompared(),
                result.failure().map(ToolException::getMessage),
                exitCode(result, counts),
                findings,
                result.outcome().map(Outcome::damage).orElse(List.of()));
    }

    /**
     * The same after its differing rows were looked at again.
     *
     * @param file where the findings of now are
     * @param damageLeft where in the key range rows still differ
     */
    public MatchSummary after(TableMatch match, Recheck.Result again, String file, List<Damage.Cell> damageLeft) {
        Counts now = again.found().counts();
        Counts all = again.whole()
                ? now
                : new Counts(
                        sourceRows - again.sourceRowsBefore() + now.sourceRows(),
                        targetRows - again.targetRowsBefore() + now.targetRows(),
                        same - again.sameBefore() + now.same(),
                        now.findings(),
                        now.perPair());
        Outcome outcome = new Outcome(all, method, again.found().elapsed(), List.of(), damageLeft);
        MatchSummary fresh = of(new MatchResult(match, Optional.of(outcome), Optional.empty()), file);
        return like(fresh, fresh.differing, again.whole() ? fresh.sameByRule : sameByRule, notes, failure, damageLeft);
    }

    /** The same counts with other details. */
    public MatchSummary with(
            List<ColumnSummary> otherDiffering,
            List<String> otherNotes,
            Optional<String> otherFailure,
            List<Damage.Cell> otherDamage) {
        return like(this, otherDiffering, sameByRule, otherNotes, otherFailure, otherDamage);
    }

    /** The same match with the counts, verdict and file of another summary. */
    private MatchSummary like(
            MatchSummary counted,
            List<ColumnSummary> otherDiffering,
            List<RuleSummary> otherSameByRule,
            List<String> otherNotes,
            Optional<String> otherFailure,
            List<Damage.Cell> otherDamage) {
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
                otherDiffering,
                otherSameByRule,
                shape,
                otherNotes,
                notCompared,
                otherFailure,
                counted.exitCode,
                counted.findings,
                otherDamage);
    }

    private static int exitCode(MatchResult result, Counts counts) {
        if (result.failure().isPresent()) {
            return result.failure().get().kind().exitCode();
        }
        if (!result.proved()) {
            return sharptally.core.fault.ErrorKind.INCOMPLETE.exitCode();
        }
        return counts.nothingDiffers() ? 0 : 1;
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
}
