package sharptally.api.job.change;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import sharptally.api.job.CompareJob;
import sharptally.api.job.Context;
import sharptally.api.job.keep.AcceptedRows;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.run.Recheck;
import sharptally.core.compare.stream.RateLimit;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.range.DifferenceRecount;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunLock;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunWriter;

/**
 * Looks again at the rows that a run found to differ, and brings the run up to date.
 *
 * @param wanted of which matches
 * @param source the source as it is opened
 * @param target the target as it is opened
 * @param keep whether the run is brought up to date; not where another target was looked at
 * @param clock of whoever asks
 */
public record RecheckJob(
        RunFolder run, FindingFilter wanted, Endpoint source, Endpoint target, boolean keep, Context context) {
    /** What became of the differences of one match. */
    public record OfMatch(String match, long before, long noLongerDifferent, long still, long differentInAnotherWay) {}

    /**
     * What became of all of them.
     *
     * @param run the run as it stands now
     * @param left keys that still differ
     * @param accepted rows of these that are accepted for now
     * @param others rows of these that are not
     * @param allowed whether the others are no more than may differ
     */
    public record Rechecked(
            List<OfMatch> matches, RunFolder run, long left, long accepted, long others, boolean allowed) {
        /** Keys that still differ and are not accepted; never none while a row is left that is not. */
        public long open() {
            return Math.min(left, others);
        }
    }

    /**
     * Looks as often as given, until nothing differs any more.
     *
     * @param times how often at most
     * @param wait how long before each look but the first
     */
    public Rechecked run(int times, Duration wait, CompareJob.Watcher watcher, BooleanSupplier stopAsked) {
        RunFolder now = run;
        long accepted = 0;
        long others = 0;
        boolean allowed = true;
        Map<String, OfMatch> all = new LinkedHashMap<>();
        for (int i = 0; i < times; i++) {
            if (i > 0) {
                pause(wait, stopAsked);
            }
            Looked looked = look(now, RunSummary.RECHECKED, watcher, stopAsked);
            if (!keep) {
                looked.forget(now.summary());
            } else if (!looked.matches.isEmpty()) {
                keep(now.summary(), looked);
            }
            accepted =
                    looked.ofThese().stream().mapToLong(MatchSummary::accepted).sum();
            others = looked.ofThese().stream()
                    .mapToLong(MatchSummary::unaccepted)
                    .sum();
            allowed = looked.ofThese().stream().allMatch(MatchSummary::staysWithinAllowance);
            for (OfMatch one : looked.matches) {
                OfMatch before = all.getOrDefault(one.match, new OfMatch(one.match, one.before, 0, 0, 0));
                all.put(
                        one.match,
                        new OfMatch(
                                one.match,
                                before.before,
                                before.noLongerDifferent + one.noLongerDifferent,
                                one.still,
                                one.differentInAnotherWay));
            }
            now = RunFolder.open(run.folder());
            if (all.values().stream().allMatch(m -> m.still + m.differentInAnotherWay == 0)) {
                break;
            }
        }
        long left = all.values().stream()
                .mapToLong(m -> m.still + m.differentInAnotherWay)
                .sum();
        return new Rechecked(List.copyOf(all.values()), now, left, accepted, others, allowed);
    }

    /**
     * What one look found.
     *
     * @param after the run as it would be by it
     */
    record Looked(List<OfMatch> matches, RunSummary after, RunWriter writer) {
        private List<MatchSummary> ofThese() {
            return after.matches().stream()
                    .filter(m -> matches.stream().anyMatch(r -> r.match.equals(m.name())))
                    .toList();
        }

        /** Removes the files of findings that another summary does not tell of. */
        void forget(RunSummary other) {
            List<String> kept =
                    other.matches().stream().map(MatchSummary::findings).toList();
            after.matches().stream()
                    .map(MatchSummary::findings)
                    .filter(file -> !kept.contains(file))
                    .forEach(writer::forget);
        }
    }

    static void pause(Duration wait, BooleanSupplier stopAsked) {
        long end = System.nanoTime() + wait.toNanos();
        while (System.nanoTime() < end) {
            try {
                Thread.sleep(50);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            if (stopAsked.getAsBoolean() || Thread.currentThread().isInterrupted()) {
                throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", "recheck", "nothing was proved");
            }
        }
    }

    @SuppressWarnings("try")
    Looked look(RunFolder now, String sort, CompareJob.Watcher watcher, BooleanSupplier stopAsked) {
        List<OfMatch> results = new ArrayList<>();
        List<MatchSummary> summaries = new ArrayList<>(now.summary().matches());
        RunWriter writer = RunWriter.goOn(now);
        try (RunLock lock = RunLock.of(now.folder());
                Place from = source.open();
                Place to = target.open()) {
            for (TableMatch match : now.matches()) {
                Optional<MatchSummary> before = now.summaryOf(match)
                        .filter(m -> wanted.wants(match) && m.state() == RunState.COMPLETE && m.differences() > 0);
                if (before.isEmpty()) {
                    continue;
                }
                checkShape(match, from, to);
                String file = writer.nextFindingsFile(match, sort);
                DifferenceRecount damage = new DifferenceRecount(before.get().damage());
                Recheck.Result result;
                try (CompareJob.Watch watch = watcher.begin(match, before.get().differences());
                        PartKeeper.Sink sink = writer.findings(match, file)) {
                    result = new Recheck(
                                    match,
                                    new Pair(from, to),
                                    context.comparing(RateLimit.NONE)
                                            .telling(watch)
                                            .stoppedBy(stopAsked))
                            .run(each -> now.forEach(match, each), counted(sink, damage));
                }

                results.add(new OfMatch(
                        match.name(),
                        before.get().differences(),
                        result.noLongerDifferent(),
                        result.still(),
                        result.differentInAnotherWay()));
                summaries.set(
                        summaries.indexOf(before.get()),
                        before.get()
                                .after(
                                        match,
                                        result,
                                        writer.seal(file),
                                        result.whole() ? result.found().damage() : damage.cells()));
            }
        }
        RunFolder then = now.holding(now.summary().with(summaries));
        return new Looked(results, AcceptedRows.again(then).counted(then), writer);
    }

    private static FindingSink counted(FindingSink sink, DifferenceRecount damage) {
        return new FindingSink() {
            @Override
            public void accept(Finding finding) {
                damage.add(finding.key());
                sink.accept(finding);
            }

            @Override
            public void restart() {
                // The match is compared whole then, which tells of damage itself.
                sink.restart();
            }
        };
    }

    private void keep(RunSummary before, Looked looked) {
        long noLongerDifferent =
                looked.matches.stream().mapToLong(OfMatch::noLongerDifferent).sum();
        long still = looked.matches.stream().mapToLong(OfMatch::still).sum();
        long changed = looked.matches.stream()
                .mapToLong(OfMatch::differentInAnotherWay)
                .sum();
        looked.writer.keepAsCompared(before);
        looked.writer.forget(RunFolder.MOVING);
        looked.writer.writeSummary(looked.after.with(
                looked.after.matches(),
                "rechecked at " + context.second() + ": " + noLongerDifferent + " no longer different, " + still
                        + " still different, " + changed
                        + " different in another way; rows that were the same were not looked at again"));
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("no-longer-different", noLongerDifferent);
        details.put("still-different", still);
        details.put("different-in-another-way", changed);
        new AuditLog(run, context.clock()).add("recheck", details);
    }

    /** Rows can be compared with each other only while their columns are what they were. */
    private static void checkShape(TableMatch match, Place from, Place to) {
        if (match.source().query().isPresent() || match.target().query().isPresent()) {
            return;
        }
        if (!hasStill(from, match.source()) || !hasStill(to, match.target())) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the table's columns are not what they were when it was compared",
                    match.name(),
                    "compare again");
        }
    }

    private static boolean hasStill(Place place, TableShape compared) {
        return plain(place.describe(compared.name().toString())).containsAll(plain(compared));
    }

    /** The columns that a table has itself, whatever they are read as. */
    private static List<ColumnShape> plain(TableShape table) {
        return table.columns().stream()
                .filter(c -> c.expression().isEmpty())
                .map(ColumnShape::asDescribed)
                .toList();
    }
}
