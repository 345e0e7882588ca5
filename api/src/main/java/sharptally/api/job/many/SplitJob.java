package sharptally.api.job.many;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.Context;
import sharptally.api.job.JobRequest;
import sharptally.api.job.keep.AcceptedRows;
import sharptally.api.job.keep.Folders;
import sharptally.api.job.keep.RunBook;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Outcome;
import sharptally.core.compare.Pair;
import sharptally.core.compare.run.Recheck;
import sharptally.core.compare.stream.RateLimit;
import sharptally.core.compare.stream.ResultCounter;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.union.UnionAddress;
import sharptally.core.place.union.UnionEngine;
import sharptally.core.range.DifferenceRecount;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.Journal;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunWriter;
import sharptally.report.text.MatchText;

/**
 * Makes a run for each part of a union of what a run found in all of them, so that it can be put right there: a row that a
 * part has belongs to that part; one that none has belongs to the part whose name its column holds, or to the one that is
 * named for those.
 *
 * @param wish what was compared, by the run's own job file
 * @param missingTo the part that gets rows which none has, where no column tells
 * @param runs folder for the new runs
 */
public record SplitJob(RunFolder run, JobRequest wish, Optional<String> missingTo, Path runs, Context context) {
    /**
     * What became of a run.
     *
     * @param untold findings that belong to no part for sure
     */
    public record Split(List<Part> parts, Untold untold) {
        public Split {
            parts = List.copyOf(parts);
        }
    }

    /**
     * One part.
     *
     * @param run empty where nothing differs there
     */
    public record Part(String name, String address, Optional<RunFolder> run, long changed, long missing, long extra) {}

    /**
     * Findings that were given to no part.
     *
     * @param missing rows that no part has, and of which nothing says where they belong
     * @param repeated rows of keys that stand more than once, maybe in several parts
     * @param misplaced rows whose column names another part than the one that has them
     * @param moved rows that differ no more, or in another way than when they were compared
     */
    public record Untold(long missing, long repeated, long misplaced, long moved) {
        public long all() {
            return missing + repeated + misplaced + moved;
        }
    }

    /**
     * @throws ToolException when the target is no union, the run proves nothing, or tables are not what they were
     */
    @SuppressWarnings("try")
    public Split split() {
        if (!(wish.target().engine() instanceof UnionEngine engine)) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "the target of this run is one database, there is nothing to split",
                    run.folder().toString(),
                    "write a script of the run itself");
        }
        if (run.summary().state() != RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run was not completed, so its findings may not be all",
                    run.folder().toString(),
                    "compare again");
        }
        UnionAddress union = engine.union();
        List<String> names =
                union.shards().stream().map(UnionAddress.Shard::name).toList();
        missingTo.filter(name -> !names.contains(name)).ifPresent(name -> {
            throw new ToolException(
                    ErrorKind.USAGE, "no part of this name", name, "the union has " + String.join(", ", names));
        });
        try (Place from = wish.source().open();
                Place to = wish.target().open()) {
            JobPlan plan = wish.plan(from, to);
            if (!plan.matches().equals(run.matches())) {
                throw new ToolException(
                        ErrorKind.REFUSED,
                        "the tables are not what they were when they were compared",
                        run.folder().toString(),
                        "compare again");
            }
            List<TableMatch> differing = plan.matches().stream()
                    .filter(m ->
                            run.summaryOf(m).filter(s -> s.differences() > 0).isPresent())
                    .toList();
            List<Owners> owners = differing.stream()
                    .map(match -> Owners.of(run, match, union, missingTo))
                    .toList();
            List<Part> parts = new ArrayList<>();
            for (int i = 0; i < names.size(); i++) {
                int part = i;
                List<TableMatch> matches =
                        differing.stream().map(match -> in(part, to, match)).toList();
                parts.add(part(names.get(i), engine.parts().get(i), plan.with(matches), owners, from));
            }
            return new Split(
                    parts,
                    new Untold(
                            owners.stream().mapToLong(Owners::homeless).sum(),
                            owners.stream().mapToLong(Owners::repeated).sum(),
                            owners.stream().mapToLong(Owners::misplaced).sum(),
                            owners.stream().mapToLong(Owners::moved).sum()));
        }
    }

    /** A match as it is with one part alone. */
    private static TableMatch in(int part, Place union, TableMatch match) {
        TableShape table = UnionEngine.in(part, union, match.target());
        return new TableMatch(
                match.name(),
                match.source(),
                table,
                match.pairs().stream()
                        .map(pair -> new ColumnPair(
                                pair.source(), UnionEngine.in(table, pair.target()), pair.comparedAs(), pair.rules()))
                        .toList(),
                match.key(),
                match.sourceOnly(),
                match.targetOnly().stream()
                        .map(column -> UnionEngine.in(table, column))
                        .toList(),
                match.differences(),
                match.notes());
    }

    @SuppressWarnings("try")
    private Part part(String name, Endpoint endpoint, JobPlan plan, List<Owners> owners, Place from) {
        RunWriter writer = RunWriter.create(runs, context.now());
        run.acceptedFile().ifPresent(writer::writeAccepted);
        JobRequest own = new JobRequest(
                wish.source(),
                endpoint,
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                wish.narrowing(),
                wish.allowEmpty());
        CompareRequest asked = Journal.wishOf(run.folder(), CompareRequest.class)
                .to(endpoint.label().toString());
        RunFolder made;
        try (Place to = endpoint.open();
                Journal journal = Journal.begin(writer.folder(), asked)) {
            RunBook book = RunBook.comparing(writer, context, own, plan, new Pair(from, to));
            book.narrowed("only what run " + run.summary().run() + " found to differ in " + name);
            for (int i = 0; i < plan.matches().size(); i++) {
                book.finished(i, match(name, plan.matches().get(i), owners.get(i), new Pair(from, to), writer));
            }
            AcceptedRows counting = new AcceptedRows(run.accepted(), match -> Optional.empty());
            if (counting.mayAccept(plan.matches())) {
                book.accept(counting);
            }
            made = book.close(true);
        }
        long differences = made.summary().differences();
        if (differences == 0) {
            try {
                Folders.delete(made.folder());
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        return new Part(
                name,
                endpoint.label().toString(),
                Optional.of(made).filter(any -> differences > 0),
                sum(made, FindingKind.CHANGED),
                sum(made, FindingKind.MISSING),
                sum(made, FindingKind.EXTRA));
    }

    private static long sum(RunFolder run, FindingKind kind) {
        return run.summary().matches().stream()
                .mapToLong(m -> switch (kind) {
                    case CHANGED -> m.changed();
                    case MISSING -> m.missing();
                    default -> m.extra();
                })
                .sum();
    }

    /** What differs in one part of what differed in all. */
    private MatchSummary match(String part, TableMatch match, Owners owners, Pair places, RunWriter writer) {
        long began = System.nanoTime();
        MatchSummary before = run.summaryOf(match).orElseThrow();
        String file = writer.findingsFile(match);
        Counting counting = new Counting(match, before);
        try (var sink = writer.findings(match, file)) {
            counting.to = sink;
            new Recheck(match, places, context.comparing(RateLimit.NONE))
                    .run(owners::feed, owners.sink(part, counting));
        }
        Outcome outcome = new Outcome(
                counting.counter.counts(counting.sourceRows, counting.targetRows),
                "by key",
                Duration.ofNanos(System.nanoTime() - began),
                List.of(),
                false,
                counting.damage.cells());
        return MatchSummary.of(
                new MatchResult(match, Optional.of(outcome), Optional.empty()),
                MatchText.words(match),
                List.of(),
                true,
                writer.seal(file));
    }

    /** Counts findings on their way. */
    private static final class Counting implements FindingSink {
        private final TableMatch match;
        private final MatchSummary before;
        private FindingSink to;
        private ResultCounter counter;
        private DifferenceRecount damage;
        private long sourceRows;
        private long targetRows;

        Counting(TableMatch match, MatchSummary before) {
            this.match = match;
            this.before = before;
            begin();
        }

        private void begin() {
            counter = new ResultCounter(match.pairs().size());
            damage = new DifferenceRecount(before.damage());
            sourceRows = 0;
            targetRows = 0;
        }

        @Override
        public void accept(Finding finding) {
            counter.count(finding);
            damage.add(finding.key());
            sourceRows += finding.kind() == FindingKind.EXTRA ? 0 : 1;
            targetRows += finding.kind() == FindingKind.MISSING ? 0 : 1;
            to.accept(finding);
        }

        @Override
        public void restart() {
            begin();
            to.restart();
        }
    }
}
