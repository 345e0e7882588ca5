package sharptally.api.job.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Side;
import sharptally.core.place.union.UnionAddress;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.ChosenFindings;
import sharptally.core.script.Direction;
import sharptally.core.script.ReferencedRows;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.Engines;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;

/**
 * What of a run is to be carried over, and to which side.
 *
 * @param filter which findings
 * @param toward the side that is changed
 * @param withParents whether rows that chosen ones refer to are carried over as well
 * @param clock of whoever asks
 */
public record TargetChanges(RunFolder run, FindingFilter filter, Side toward, boolean withParents, Clock clock) {
    /** Findings older than this may no longer say how the sides are. */
    private static final Duration OLD = Duration.ofDays(7);

    /**
     * @param olderIsFine whether a run of long ago may be used
     * @throws ToolException when the run proves nothing, is too old, or can't be carried over to that side
     */
    public static TargetChanges of(
            RunFolder run, FindingFilter filter, Side toward, boolean withParents, boolean olderIsFine, Clock clock) {
        TargetChanges mending = new TargetChanges(run, filter, toward, withParents, clock);
        mending.check(olderIsFine);
        return mending;
    }

    private void check(boolean olderIsFine) {
        if (run.matches().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE, "the run compared no rows", run.folder().toString(), "compare first");
        }
        if (run.summary().state() != RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run was not completed, so its findings may not be all",
                    run.folder().toString(),
                    "compare again");
        }
        if (UnionAddress.isOne(address())) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "several databases are to be changed, each of which takes rows of its own",
                    place(),
                    toward == Side.TARGET
                            ? "split the run into one for each of them first"
                            : "compare with it as the target, and split that run");
        }
        Duration age = Duration.between(Instant.parse(run.summary().started()), clock.instant());
        if (!olderIsFine && age.compareTo(OLD) > 0) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run is " + age.toDays() + " days old",
                    run.folder().toString(),
                    Hint.OLDER);
        }
        if (toward == Side.SOURCE) {
            chosenOfRun().stream().filter(TableMatch::translates).findFirst().ifPresent(m -> {
                throw new ToolException(
                        ErrorKind.REFUSED,
                        "a rule translates values from the source to the target, which can't be turned round",
                        m.name(),
                        Hint.LEAVE_OUT_MATCH);
            });
        }
    }

    private List<TableMatch> chosenOfRun() {
        return run.matches().stream().filter(filter::wants).toList();
    }

    ChosenFindings findings() {
        ChosenFindings chosen = new ChosenFindings(run, run.matches(), filter, toward == Side.SOURCE, Optional.empty());
        return withParents
                ? new ChosenFindings(
                        run, run.matches(), filter, toward == Side.SOURCE, Optional.of(ReferencedRows.of(chosen)))
                : chosen;
    }

    /** The changes, in order. */
    ChangePlan plan(Direction direction) {
        ChosenFindings findings = findings();
        return new ChangePlan(findings.chosen(), findings, direction, dialect());
    }

    /** The place that is changed, as the user named it. */
    public String place() {
        return toward == Side.TARGET
                ? run.summary().target().name()
                : run.summary().source().name();
    }

    Address address() {
        return Address.parse(
                toward == Side.TARGET
                        ? run.summary().target().address()
                        : run.summary().source().address());
    }

    SqlDialect dialect() {
        return Engines.dialect(address());
    }

    /** Whether the target of a run can be changed, or written anew, at all. */
    public static boolean isTargetFixable(RunFolder run) {
        return isTargetOfFiles(run)
                || !isTargetUnion(run)
                        && Engines.of(Address.parse(run.summary().target().address()))
                                .changes()
                                .isPresent();
    }

    /** Whether the target of a run is files, which are written anew and not changed. */
    public static boolean isTargetOfFiles(RunFolder run) {
        return !isTargetUnion(run)
                && Engines.rewrites(Address.parse(run.summary().target().address()))
                        .isPresent();
    }

    /** Whether the target of a run is several databases, whose rows are put right in each by itself. */
    public static boolean isTargetUnion(RunFolder run) {
        return UnionAddress.isOne(run.summary().target().address());
    }

    /** Whether the place is files, which are written anew and not changed. */
    public boolean isOfFiles() {
        return Engines.rewrites(address()).isPresent();
    }

    Engine engine() {
        return Engines.of(address());
    }

    /** What would be done, and what a person must know before it is. */
    ChangePreview.Found outlook() {
        ChangePreview.Found found = ChangePreview.of(plan(Direction.MEND));
        return new ChangePreview.Found(found.counts(), warnings(found));
    }

    private List<String> warnings(ChangePreview.Found found) {
        List<String> warnings = new ArrayList<>();
        for (TableMatch match : findings().chosen()) {
            MatchSummary compared = summary(match);
            if (compared.differences() > 0) {
                match.notWritable()
                        .ifPresent(why -> warnings.add("nothing is done about match " + match.name() + ": " + why));
            }
            if ((toward == Side.TARGET ? compared.extra() : compared.missing()) > 0) {
                match.unreadable()
                        .forEach(c -> warnings.add("rows deleted from "
                                + match.target().name()
                                + " can't be put back with column " + c.name() + " (" + c.declaredType() + "), which "
                                + (toward == Side.TARGET ? "can't be" : "was not") + " read"));
            }
        }
        if (!withParents) {
            ReferencedRows.of(findings())
                    .warnings()
                    .forEach(w -> warnings.add(w + "; the target may refuse them: --with-parents adds those"));
        }
        warnings.addAll(found.warnings());
        return warnings;
    }

    private MatchSummary summary(TableMatch match) {
        return run.summaryOf(match).orElseThrow();
    }

    /** What was left out on request, a sentence; empty where nothing was. */
    public Optional<String> leftOut() {
        if (filter.wantsAll()) {
            return Optional.empty();
        }
        List<String> tables = new ArrayList<>();
        ChosenFindings findings = findings();
        long all = 0;
        for (TableMatch match : run.matches()) {
            if (summary(match).differences() == 0) {
                continue;
            }
            long left = findings.leftOut(match);
            all += left;
            if (left > 0) {
                tables.add(match.name() + " " + left);
            }
        }
        String columns = filter.columns().isEmpty()
                ? ""
                : "; of changed rows only "
                        + String.join(", ", filter.columns().stream().sorted().toList());
        return all == 0 && columns.isEmpty()
                ? Optional.empty()
                : Optional.of("left out on request: " + all + (all == 1 ? " finding" : " findings")
                        + (tables.isEmpty() ? "" : " (" + String.join(", ", tables) + ")") + columns);
    }
}
