package sharptally.formats.job;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.core.accept.AtMost;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.totals.Expectation;
import sharptally.core.totals.TotalsSettings;

/**
 * A job as its job file describes it, variables replaced and included files taken in.
 *
 * @param name its whole path
 * @param source the source's address
 * @param targets the address of each target that is compared with the source by itself; at least one
 * @param oneOfSeveral whether this is about one of several targets that the file names
 * @param workers how many matches are compared at once
 * @param record the address of the place in which results are recorded
 * @param keepRuns how many of its runs are kept; empty for all
 * @param notices who is told of the result of a run
 * @param leaveOutTables tables that no pattern finds, and that are no difference where they stand on one side only
 * @param allowEmpty whether conditions may leave no row of a match
 * @param accepted the file of accepted differences, by its whole path
 * @param matches empty for all tables of equal name
 */
public record JobFile(
        String name,
        String source,
        List<String> targets,
        boolean oneOfSeveral,
        Optional<Integer> workers,
        Optional<String> record,
        Optional<Integer> keepRuns,
        List<Notice> notices,
        List<Glob> leaveOutTables,
        boolean allowEmpty,
        Optional<Path> accepted,
        List<Match> matches) {
    public static final int FORMAT = 1;

    public JobFile {
        targets = List.copyOf(targets);
        notices = List.copyOf(notices);
        leaveOutTables = List.copyOf(leaveOutTables);
        matches = List.copyOf(matches);
    }

    /**
     * One entry of {@code matches}.
     *
     * @param totals what the job file says of totals; empty for the usual ones
     * @param expectSource what is expected of the source's figures
     * @param atMost how many rows may differ, beside those that are accepted; empty for none
     */
    public record Match(
            MatchRequest wish,
            Optional<TotalsSettings> totals,
            List<Expectation> expectSource,
            List<Expectation> expectTarget,
            Optional<AtMost> atMost) {
        public Match {
            expectSource = List.copyOf(expectSource);
            expectTarget = List.copyOf(expectTarget);
        }
    }

    /** The target; the first where there are several. */
    public String target() {
        return targets.get(0);
    }

    /** The same with this target alone. */
    public JobFile to(String one) {
        return new JobFile(
                name,
                source,
                List.of(one),
                targets.size() > 1,
                workers,
                record,
                keepRuns,
                notices,
                leaveOutTables,
                allowEmpty,
                accepted,
                matches);
    }

    public List<MatchRequest> wishes() {
        return matches.stream().map(Match::wish).toList();
    }

    /** The entry from which a match came: the one that names it, else the first pattern that finds it. */
    public Optional<Match> entryOf(TableMatch match) {
        String called = match.partitionOf().orElse(match.name());
        Optional<Match> named = matches.stream()
                .filter(m -> m.wish().name().filter(called::equals).isPresent())
                .findFirst();
        return named.or(() -> matches.stream()
                        .filter(m -> m.wish().name().isEmpty()
                                && isNamed(m.wish().source().name(), match))
                        .findFirst())
                .or(() -> matches.stream()
                        .filter(m -> m.wish().pattern())
                        .filter(m -> new Glob(m.wish().source().name())
                                        .matches(match.source().name().name())
                                || new Glob(m.wish().source().name())
                                        .matches(match.source().name().toString()))
                        .findFirst());
    }

    private static boolean isNamed(String name, TableMatch match) {
        return name.equalsIgnoreCase(match.source().name().toString())
                || name.equalsIgnoreCase(match.source().name().name());
    }
}
