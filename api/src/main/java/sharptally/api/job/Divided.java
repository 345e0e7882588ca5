package sharptally.api.job;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.MatchNote;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.TableShape;
import sharptally.core.structure.PartitionPlan;
import sharptally.formats.job.JobFile;

/**
 * The tables of a plan, each partition as a match of its own, where the source, else the target, declares some.
 *
 * @param entryOf what the job file says of a match
 * @param only which are wanted, by names of partitions or of tables; empty for all
 * @param leaveOut which are not
 */
record Divided(
        Place from,
        Place to,
        Function<TableMatch, Optional<JobFile.Match>> entryOf,
        List<Glob> only,
        List<Glob> leaveOut) {
    /**
     * @throws ToolException when no table has partitions, or there is none of a name that is asked for
     */
    JobPlan of(JobPlan plan) {
        List<TableMatch> all = new ArrayList<>();
        for (TableMatch match : plan.matches()) {
            Optional<Partitioning> ofSource = declared(from, match.source());
            Optional<Partitioning> declared = ofSource.or(() -> declared(to, match.target()));
            if (declared.isEmpty()) {
                all.add(match);
            } else {
                check(match);
                all.addAll(PartitionPlan.of(match, declared.get(), ofSource.isPresent() ? Side.SOURCE : Side.TARGET));
            }
        }
        if (all.stream().allMatch(m -> m.partitionOf().isEmpty())) {
            throw none(all);
        }
        List<Glob> unmet = only.stream()
                .filter(glob -> isOfPartitions(glob) && all.stream().noneMatch(match -> names(glob, match)))
                .toList();
        if (!unmet.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "there is no such partition",
                    unmet.get(0).text(),
                    "there are: "
                            + String.join(
                                    ", ", all.stream().map(TableMatch::name).toList()));
        }
        List<TableMatch> wanted = all.stream()
                .filter(match -> match.partitionOf().isEmpty()
                        || only.isEmpty()
                        || only.stream().anyMatch(glob -> names(glob, match)))
                .toList();
        List<TableMatch> left = wanted.stream()
                .filter(match -> leaveOut.stream().noneMatch(glob -> isOfPartitions(glob) && names(glob, match)))
                .toList();
        List<String> leftOut = Stream.concat(
                        plan.leftOut().stream(),
                        wanted.stream().filter(match -> !left.contains(match)).map(TableMatch::name))
                .toList();
        return new JobPlan(left, plan.lone(), leftOut);
    }

    private static Optional<Partitioning> declared(Place place, TableShape table) {
        return table.query().isPresent()
                ? Optional.empty()
                : place.structure().flatMap(structure -> structure.partitioning(table));
    }

    private void check(TableMatch match) {
        if (entryOf.apply(match)
                .filter(e -> e.atMost().isPresent()
                        || !e.expectSource().isEmpty()
                        || !e.expectTarget().isEmpty())
                .isPresent()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "at-most and expect are of a whole table, not of its partitions",
                    match.name(),
                    "compare it as one, or leave these lines out of the job file");
        }
    }

    private static ToolException none(List<TableMatch> all) {
        String why = all.stream()
                .flatMap(m -> m.notes().stream()
                        .filter(MatchNote.Undivided.class::isInstance)
                        .map(note -> m.name() + ": " + ((MatchNote.Undivided) note).why()))
                .findFirst()
                .orElse("neither side declares partitions of them");
        return new ToolException(
                ErrorKind.USAGE,
                "no table can be compared by partition",
                why,
                "compare tables as a whole; of a part of them, by a condition or a range of keys");
    }

    /** Whether it is about partitions; else it is about tables. */
    static boolean isOfPartitions(Glob glob) {
        return glob.text().contains(TableMatch.PARTITION_SIGN);
    }

    /** The same of tables. */
    static Glob ofTable(Glob glob) {
        int sign = glob.text().indexOf(TableMatch.PARTITION_SIGN);
        return sign < 0 ? glob : new Glob(glob.text().substring(0, sign));
    }

    private boolean names(Glob glob, TableMatch match) {
        String named = isOfPartitions(glob) ? match.name() : match.partitionOf().orElse(match.name());
        return JobRequest.names(glob, named, from, to);
    }
}
