package sharptally.api.job;

import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.shape.TableName;
import sharptally.core.totals.TotalsSettings;
import sharptally.formats.job.JobFile;

/**
 * Which matches of which places a command works on, as the user says it.
 *
 * @param jobFile what a job file says; empty to propose matches by name
 * @param key the key's columns, where one match is proposed
 * @param leaveOut columns to leave out, where matches are proposed
 * @param leaveOutTables tables to leave out, where matches are proposed
 * @param narrowing which rows of each match
 * @param allowEmpty whether what narrows may leave no row at all
 * @param only names of the matches that are wanted, with wildcards; empty for all
 */
public record JobRequest(
        Endpoint source,
        Endpoint target,
        Optional<JobFile> jobFile,
        List<String> key,
        List<String> leaveOut,
        List<Glob> only,
        List<Glob> leaveOutTables,
        Narrowing narrowing,
        boolean allowEmpty) {
    public JobRequest {
        leaveOutTables = List.copyOf(leaveOutTables);
        key = List.copyOf(key);
        leaveOut = List.copyOf(leaveOut);
        only = List.copyOf(only);
    }

    /** The same with one of the targets that its job file names, if it has one. */
    public JobRequest to(Endpoint one) {
        return new JobRequest(
                source,
                one,
                jobFile.map(job -> job.to(one.label().toString())),
                key,
                leaveOut,
                only,
                leaveOutTables,
                narrowing,
                allowEmpty);
    }

    /** The same with only some rows of each match. */
    public JobRequest narrowedBy(Narrowing wanted) {
        return new JobRequest(source, target, jobFile, key, leaveOut, only, leaveOutTables, wanted, allowEmpty);
    }

    /** The same, no row being enough or not. */
    public JobRequest allowingEmpty(boolean wanted) {
        return new JobRequest(
                source, target, jobFile, key, leaveOut, only, leaveOutTables, narrowing, allowEmpty || wanted);
    }

    /** The same, the places read in one state each, or not, or in states that do not get too old. */
    public JobRequest reading(CompareRequest asked) {
        UnaryOperator<PlaceAccess> how = access -> {
            PlaceAccess read = access.withSnapshot(asked.snapshot());
            return asked.limits().snapshotAge().map(read::withSnapshotsUpTo).orElse(read);
        };
        return new JobRequest(
                source.opened(how),
                target.opened(how),
                jobFile,
                key,
                leaveOut,
                only,
                leaveOutTables,
                narrowing,
                allowEmpty);
    }

    /**
     * The matches, decided.
     *
     * @throws sharptally.core.fault.ToolException telling all that is wrong at once
     */
    public JobPlan plan(Place from, Place to) {
        JobPlan plan = wholePlan(from, to);
        if (narrowing.equals(Narrowing.NONE)) {
            return plan;
        }
        JobPlan narrowed = plan.with(plan.matches().stream()
                .map(m -> narrowing.narrowed(m, from, to))
                .toList());
        return narrowing.byPartition()
                ? new Divided(from, to, this::entryOf, only, leaveOutTables).of(narrowed)
                : narrowed;
    }

    private JobPlan wholePlan(Place from, Place to) {
        List<JobFile.Match> entries = jobFile.map(JobFile::matches).orElse(List.of());
        if (entries.isEmpty()) {
            List<Glob> leftOut = Stream.concat(
                            jobFile.map(JobFile::leaveOutTables).orElse(List.of()).stream(), tablesLeftOut())
                    .toList();
            JobPlan.ByName asked = new JobPlan.ByName(named(source, from), named(target, to), key, leaveOut, leftOut);
            return JobPlan.byName(from, to, asked, name -> isWanted(name, from, to));
        }
        JobFile said = jobFile.orElseThrow();
        List<Glob> leftOut =
                Stream.concat(said.leaveOutTables().stream(), tablesLeftOut()).toList();
        return JobPlan.of(from, to, said.wishes(), leftOut, name -> isWanted(name, from, to));
    }

    private Stream<Glob> tablesLeftOut() {
        return leaveOutTables.stream().filter(glob -> !narrowing.byPartition() || !Divided.isOfPartitions(glob));
    }

    private static Optional<String> named(Endpoint endpoint, Place place) {
        return endpoint.label().table().or(() -> place.soleTable().map(TableName::toString));
    }

    private boolean isWanted(String match, Place from, Place to) {
        Stream<Glob> tables = narrowing.byPartition() ? only.stream().map(Divided::ofTable) : only.stream();
        return (only.isEmpty() || tables.anyMatch(g -> names(g, match, from, to)))
                && (jobFile.isEmpty() || leaveOutTables.stream().noneMatch(g -> names(g, match, from, to)));
    }

    static boolean names(Glob glob, String match, Place from, Place to) {
        int dot = match.lastIndexOf('.');
        Stream<String> names = dot >= 0
                ? Stream.of(match, match.substring(dot + 1))
                : Stream.of(match, from.ownSchema() + "." + match, to.ownSchema() + "." + match);
        return names.anyMatch(glob::matches);
    }

    Optional<JobFile.Match> entryOf(TableMatch match) {
        return jobFile.flatMap(s -> s.entryOf(match));
    }

    /** How many of these workers may work at once, each of which has a connection to either side. */
    public int allowed(int workers) {
        return Math.min(
                workers,
                Math.min(
                        source.access().session().maxConnections(),
                        target.access().session().maxConnections()));
    }

    /** Which totals the job file wants of a match; empty where it says nothing of them. */
    Optional<TotalsSettings> totalsOf(TableMatch match) {
        return entryOf(match).flatMap(JobFile.Match::totals);
    }
}
