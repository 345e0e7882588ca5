package sharptally.formats.run;

import com.fasterxml.jackson.annotation.JsonValue;
import java.time.Instant;
import java.util.Collections;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.place.Side;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.TotalsResult;

/**
 * What {@code run.json} holds; its form is described in {@code docs/run-folder.md}.
 *
 * @param format version of the form
 * @param run name of the run: its folder's name
 * @param started when, as an ISO instant
 * @param by the user and the machine, as {@code user@host}
 * @param job whole path of the job file that it was made by
 * @param jobSha256 of the bytes of the job file as they were when the run began
 * @param matches those whose rows were compared
 * @param lone tables of the selection that have no counterpart
 * @param leftOut tables of the selection that were left out on request
 * @param notes what is worth knowing of the run as a whole
 * @param totals of matches whose totals were compared with each other
 * @param narrowed what kept rows from being compared, as the user wanted it
 * @param checks what was expected of figures of one side
 * @param accepted what is accepted for now, and how many rows each entry took
 * @param integrity which constraints were looked at, and what does not meet them; empty where none were
 * @param declared what tables are declared otherwise than on the other side; empty where that was not looked at
 * @param settling how rows that differed at first were looked at until they did no more; empty where they were not
 * @param oneOfSeveral whether the job file names several targets, of which this one was compared here
 */
public record RunSummary(
        int format,
        String tool,
        String run,
        RunState state,
        String started,
        double seconds,
        Optional<String> by,
        Optional<String> job,
        Optional<String> jobSha256,
        Database source,
        Database target,
        List<MatchSummary> matches,
        List<LoneSummary> lone,
        List<String> leftOut,
        List<String> notes,
        List<TotalsResult> totals,
        List<CheckResult> checks,
        List<String> narrowed,
        List<Accepted> accepted,
        Optional<Integrity> integrity,
        Optional<Declared> declared,
        Optional<Settling> settling,
        boolean oneOfSeveral) {
    public static final int FORMAT = 5;

    /** Exit codes, the gravest last. */
    public static final List<Integer> GRAVITY = List.of(
            0,
            1,
            ErrorKind.INCOMPLETE.exitCode(),
            ErrorKind.READ.exitCode(),
            ErrorKind.USAGE.exitCode(),
            ErrorKind.REFUSED.exitCode(),
            ErrorKind.BUG.exitCode());

    /** What the names of findings files have in them that are of a later look. */
    public static final String RECHECKED = ".again-";

    /** The same of a look within the comparison. */
    public static final String SETTLED = ".settled-";

    /**
     * One side of a run.
     *
     * @param name as the user named it, never with a password
     * @param address where that is
     * @param product product and version, as the database reports them
     * @param schema whose tables go by their bare names
     * @param facts what the database said of itself and of the session: user, TLS, character set, time zone; in order
     * @param snapshot whether all that was read was of one state of the database
     */
    public record Database(
            String name, String address, String product, String schema, Map<String, String> facts, boolean snapshot) {
        /** For the target of a run that has none. */
        public static final Database NONE = new Database("", "", "", "", Map.of(), false);

        public Database {
            facts = facts == null ? Map.of() : Collections.unmodifiableMap(new LinkedHashMap<>(facts));
        }
    }

    public RunSummary {
        Instant.parse(started);
        matches = List.copyOf(matches);
        lone = List.copyOf(lone);
        leftOut = List.copyOf(leftOut);
        notes = List.copyOf(notes);
        totals = List.copyOf(totals);
        checks = List.copyOf(checks);
        narrowed = narrowed == null ? List.of() : List.copyOf(narrowed);
        accepted = accepted == null ? List.of() : List.copyOf(accepted);
        integrity = integrity == null ? Optional.empty() : integrity;
        declared = declared == null ? Optional.empty() : declared;
        settling = settling == null ? Optional.empty() : settling;
    }

    /**
     * What tables are declared to be, beside their columns.
     *
     * @param otherwise what differs
     * @param untold of what one side, or both, do not tell, a sentence each
     */
    public record Declared(List<DeclaredOtherwise> otherwise, List<String> untold) {
        public Declared {
            otherwise = List.copyOf(otherwise);
            untold = List.copyOf(untold);
        }
    }

    /**
     * What one side declares and the other does not, or in another way.
     *
     * @param what is declared, in words
     * @param source how; empty where nothing is
     * @param target the same of the target
     * @param meaning what it means for the data, a sentence
     */
    public record DeclaredOtherwise(String table, String what, String source, String target, String meaning) {}

    /** What is declared otherwise. */
    public List<DeclaredOtherwise> declaredOtherwise() {
        return declared.map(Declared::otherwise).orElse(List.of());
    }

    /**
     * What was found of constraints.
     *
     * @param met how many were met
     * @param unmet those that were not
     * @param notLookedAt those that could not be looked at, with the reason
     */
    public record Integrity(int met, List<Unmet> unmet, List<String> notLookedAt) {
        public Integrity {
            unmet = List.copyOf(unmet);
            notLookedAt = List.copyOf(notLookedAt);
        }
    }

    /**
     * A constraint that is not met.
     *
     * @param side whose rows do not meet it
     * @param what in words
     * @param rows how many; where values repeat, how many values
     * @param examples values of some of them
     * @param mend a statement that mends it, in the words of the side's engine; empty where there is none
     */
    public record Unmet(Side side, String table, String what, long rows, List<String> examples, Optional<String> mend) {
        public Unmet {
            examples = List.copyOf(examples);
        }
    }

    /** Constraints that are not met. */
    public List<Unmet> unmet() {
        return integrity.map(Integrity::unmet).orElse(List.of());
    }

    /** The same, what does not meet constraints being told in other words. */
    public RunSummary telling(List<Unmet> others) {
        return with(
                matches,
                notes,
                totals,
                checks,
                narrowed,
                new Besides(
                        accepted,
                        integrity.map(i -> new Integrity(i.met(), others, i.notLookedAt())),
                        declared,
                        settling));
    }

    /**
     * How rows that differed at first were looked at again until they differed no more.
     *
     * @param limitSeconds how long a row has to differ in one way to be held different
     * @param looks how often they were looked at
     * @param until when last, as an ISO instant
     * @param settled keys that differed at first, or came to, and do no more
     * @param moving keys that still changed
     * @param replayed whether each look waited until the target had replayed what the source had written
     */
    public record Settling(double limitSeconds, int looks, String until, long settled, long moving, boolean replayed) {}

    /** The same after rows were looked at until they settled. */
    public RunSummary settled(List<MatchSummary> otherMatches, Settling how) {
        return with(
                otherMatches,
                notes,
                totals,
                checks,
                narrowed,
                new Besides(accepted, integrity, declared, Optional.of(how)));
    }

    /** Keys that kept changing, of all matches. */
    public long movingKeys() {
        return matches.stream().mapToLong(MatchSummary::moving).sum();
    }

    /**
     * An entry of a file of accepted differences.
     *
     * @param table of which table or tables
     * @param what which of their differences, in words
     * @param until the last day on which it holds, as an ISO date
     * @param rows how many differing rows it accepts, or would if it were not past
     */
    public record Accepted(
            String table, String what, String reason, String owner, String until, long rows, AcceptedState state) {}

    /** What became of an entry of a file of accepted differences. */
    public enum AcceptedState {
        USED,
        /** Nothing that differs is what it is about. */
        NOT_MET,
        /** Its last day is over: its rows count as differing. */
        PAST,
        /** Its tables, or all of their rows, were not compared. */
        NOT_LOOKED_AT;

        @JsonValue
        public String word() {
            return toString().replace(' ', '-');
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /** The same with what is accepted counted. */
    public RunSummary accepting(List<MatchSummary> otherMatches, List<Accepted> entries) {
        return with(otherMatches, notes, totals, checks, narrowed, new Besides(entries, integrity, declared, settling));
    }

    /** The same, what is accepted being told in other words. */
    public RunSummary accepting(List<Accepted> entries) {
        return accepting(matches, entries);
    }

    /** Rows that differ and are accepted, of all matches. */
    public long acceptedRows() {
        return matches.stream().mapToLong(MatchSummary::accepted).sum();
    }

    /** Matches in which rows differ that are not accepted, and are no more than the job file allows. */
    public List<MatchSummary> allowed() {
        return matches.stream()
                .filter(m -> m.exitCode() == 0 && m.unaccepted() > 0)
                .toList();
    }

    /** The same with other findings. */
    public RunSummary with(List<MatchSummary> others) {
        return with(others, notes, totals, checks, narrowed);
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
        return with(
                otherMatches,
                otherNotes,
                otherTotals,
                otherChecks,
                otherNarrowed,
                new Besides(accepted, integrity, declared, settling));
    }

    private record Besides(
            List<Accepted> accepted,
            Optional<Integrity> integrity,
            Optional<Declared> declared,
            Optional<Settling> settling) {}

    private RunSummary with(
            List<MatchSummary> otherMatches,
            List<String> otherNotes,
            List<TotalsResult> otherTotals,
            List<CheckResult> otherChecks,
            List<String> otherNarrowed,
            Besides besides) {
        return new RunSummary(
                format,
                tool,
                run,
                state,
                started,
                seconds,
                by,
                job,
                jobSha256,
                source,
                target,
                otherMatches,
                lone,
                leftOut,
                otherNotes,
                otherTotals,
                otherChecks,
                otherNarrowed,
                besides.accepted,
                besides.integrity,
                besides.declared,
                besides.settling,
                oneOfSeveral);
    }

    /** Whether the findings are those of a later look at the rows, and not of the comparison itself. */
    public boolean isRechecked() {
        return matches.stream().anyMatch(m -> m.findings().contains(RECHECKED));
    }

    /** Whether it is of the same job file, or where there is none, of the same two places. */
    public boolean isOfSameJob(RunSummary other) {
        return job.isPresent()
                ? job.equals(other.job) && isOfSameTarget(other)
                : other.job.isEmpty() && isOfSameDatabases(other);
    }

    /** A job file's target may change from day to day, as that of a dated file does; those of one with several are told apart. */
    private boolean isOfSameTarget(RunSummary other) {
        return !oneOfSeveral && !other.oneOfSeveral || target.name().equals(other.target.name());
    }

    private boolean isOfSameDatabases(RunSummary other) {
        return source.address().equals(other.source.address())
                && target.address().equals(other.target.address());
    }

    /** The schemas of source and target whose tables go by their bare names. */
    public List<String> schemas() {
        return List.of(source.schema(), target.schema());
    }

    /** Whether it looks at the same places, and at the same tables of both. */
    public boolean isOfSameTables(RunSummary other) {
        return isOfSameDatabases(other) && tables(matches).equals(tables(other.matches));
    }

    private static List<String> tables(List<MatchSummary> of) {
        return of.stream()
                .map(m -> m.name() + "\n" + m.source() + "\n" + m.target())
                .sorted()
                .toList();
    }

    /**
     * Whether what one of both found and the other did not is new, or is there no more: both came to their end, are of the
     * same job and tables, and looked at the same rows of them, by the same keys.
     */
    public boolean canBeHeldAgainst(RunSummary other) {
        return state == RunState.COMPLETE
                && other.state == RunState.COMPLETE
                && isOfSameJob(other)
                && isOfSameTables(other)
                && rows(this).equals(rows(other));
    }

    private static List<List<String>> rows(RunSummary of) {
        return Stream.concat(
                        Stream.of(of.narrowed),
                        of.matches.stream()
                                .sorted(Comparator.comparing(MatchSummary::name))
                                .flatMap(m -> Stream.of(m.narrowed(), m.key())))
                .toList();
    }

    /** Rows that differ, of all matches, tables and columns on one side only, and figures that differ. */
    public long differences() {
        return matches.stream().mapToLong(MatchSummary::differences).sum()
                + oneSided()
                + totals.stream().mapToLong(TotalsResult::differing).sum()
                + checks.stream().filter(c -> !c.held()).count();
    }

    /** Whether a figure differs, or is not as it was expected. */
    public boolean figuresDiffer() {
        return totals.stream().anyMatch(t -> t.differing() > 0)
                || checks.stream().anyMatch(c -> !c.held());
    }

    /** Whether the tables that were compared are declared otherwise. */
    public boolean shapesDiffer() {
        return !declaredOtherwise().isEmpty()
                || matches.stream().anyMatch(m -> !m.shape().isEmpty());
    }

    /** Tables that surely are on one side only. */
    public List<LoneSummary> loneTables(Side side) {
        return lone.stream()
                .filter(t -> t.side() == side && t.untold().isEmpty())
                .toList();
    }

    /** Tables and columns that surely are on one side only. */
    public long oneSided() {
        return lone.stream().filter(t -> t.untold().isEmpty()).count()
                + matches.stream()
                        .mapToLong(m ->
                                m.missingColumns().size() + m.extraColumns().size())
                        .sum();
    }

    /** 0 same, 1 differences, otherwise what kept the run from proving anything: the gravest of all its parts. */
    public int exitCode() {
        boolean ended = state == RunState.COMPLETE || matches.stream().anyMatch(m -> m.state() != RunState.COMPLETE);
        Stream<Integer> parts = Stream.of(
                ended ? 0 : ErrorKind.INCOMPLETE.exitCode(),
                lone.stream().anyMatch(t -> t.untold().isPresent()) ? ErrorKind.INCOMPLETE.exitCode() : 0,
                integrity.filter(i -> !i.notLookedAt().isEmpty()).isPresent() ? ErrorKind.INCOMPLETE.exitCode() : 0,
                oneSided() > 0 || figuresDiffer() || !unmet().isEmpty() ? 1 : 0);
        return Stream.concat(matches.stream().map(MatchSummary::exitCode), parts)
                .max(Comparator.comparing(GRAVITY::indexOf))
                .orElse(0);
    }
}
