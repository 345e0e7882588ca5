package sharptally.api.job.keep;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import sharptally.core.compare.checksum.Known;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;

/**
 * An earlier run of the same tables, whose findings are taken over where they can be told to hold still.
 *
 * @param wanted whether a run is to be relied on, and this one by a later run
 * @param run as the comparison left it; empty where none is relied on
 * @param note why none is, though it was asked for
 */
public record SinceRun(boolean wanted, Optional<RunFolder> run, Optional<String> note) {
    private static final SinceRun NONE = new SinceRun(false, Optional.empty(), Optional.empty());

    /** More findings are not held in memory. */
    private static final long MOST_FINDINGS = 100_000;

    /**
     * @param named the folder of the run; the latest one that is alike where it is empty
     * @param isAlike whether a run looked at the same rows
     * @throws ToolException when the run that is named looked at other rows
     */
    public static SinceRun of(Optional<Path> named, Path runs, Predicate<RunFolder> isAlike) {
        if (named.isPresent()) {
            RunFolder run = RunFolder.open(named.get()).asCompared();
            if (!isAlike.test(run)) {
                throw new ToolException(
                        ErrorKind.USAGE,
                        "this run looked at other rows, so nothing of it can be relied on",
                        named.get().toString(),
                        "name one of the same databases, tables, columns and conditions");
            }
            return new SinceRun(true, Optional.of(run), Optional.empty());
        }
        Optional<RunFolder> latest = RunFolder.all(runs, isAlike).stream()
                .reduce((one, later) -> later)
                .map(RunFolder::asCompared);
        return new SinceRun(
                true,
                latest,
                latest.isPresent()
                        ? Optional.empty()
                        : Optional.of(
                                "nothing was relied on: there is no earlier run of the same tables and conditions"));
    }

    public static SinceRun none() {
        return NONE;
    }

    /** What is known of a match, which is nothing where it was not completed, or has too many findings. */
    public Optional<Known> known(TableMatch match) {
        if (!wanted) {
            return Optional.empty();
        }
        Optional<MatchSummary> told = run.flatMap(r -> r.summaryOf(match))
                .filter(m -> m.state() == RunState.COMPLETE && m.lines() <= MOST_FINDINGS);
        if (told.isEmpty() || !run.orElseThrow().matches().contains(match)) {
            return Optional.of(Known.nothing());
        }
        List<Finding> findings = new ArrayList<>();
        run.get().forEach(match, findings::add);
        return Optional.of(new Known(run.get().summary().run(), run.get().sliced(match), findings));
    }
}
