package sharptally.api.job.many;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.function.BooleanSupplier;
import sharptally.api.job.CompareJob;
import sharptally.api.job.CompareJob.Watcher;
import sharptally.api.job.Context;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.shared.SharedPlace;
import sharptally.core.rows.Daemons;
import sharptally.formats.run.RunFolder;

/**
 * Comparisons of one source with several targets at the same time. What they want of the source is read once for all of
 * them; each has a run of its own, and one that fails does not stop the others.
 *
 * @param jobs of the same source, with the same tables wanted
 */
public record TargetsJob(List<CompareJob> jobs) {
    /** Whoever comes to a table first has its first rows in hand while the others come. */
    private static final Duration PATIENCE = Duration.ofSeconds(5);

    public TargetsJob {
        jobs = List.copyOf(jobs);
    }

    /** What became of one comparison: a run, or a failure that came before there was one. */
    public record Result(Optional<RunFolder> run, Optional<ToolException> failure) {}

    /**
     * What became of all.
     *
     * @param results in the order of the jobs
     * @param reading how often rows of the source were read: for several of them at once, and for one alone
     */
    public record Results(List<Result> results, SharedPlace.Counts reading) {
        public Results {
            results = List.copyOf(results);
        }
    }

    /**
     * Compares.
     *
     * @throws ToolException when the source can't be opened
     */
    @SuppressWarnings("try")
    public Results run(Context context, Watcher watcher, BooleanSupplier stopAsked) {
        int targets = jobs.size();
        try (SharedPlace shared = new SharedPlace(jobs.get(0).wish().source().open(), targets, PATIENCE)) {
            List<Place> members = new ArrayList<>();
            for (int i = 0; i < targets; i++) {
                members.add(shared.member());
            }
            Meeting meeting = new Meeting(targets, stopAsked);
            List<CompletableFuture<Result>> all = new ArrayList<>();
            for (int i = 0; i < targets; i++) {
                int target = i;
                CompletableFuture<Result> result = new CompletableFuture<>();
                Daemons.run("compare-" + (i + 1), () -> {
                    try (Place source = members.get(target)) {
                        result.complete(one(target, source, context, meeting.of(target, watcher), stopAsked));
                    } catch (RuntimeException | Error e) {
                        result.completeExceptionally(e);
                    } finally {
                        meeting.leave(target);
                    }
                });
                all.add(result);
            }
            // A failure that is none of the tool's own ends here only when all are done.
            all.forEach(result -> result.exceptionally(failure -> null).join());
            return new Results(all.stream().map(CompletableFuture::join).toList(), shared.counts());
        }
    }

    private Result one(int target, Place source, Context context, Watcher watcher, BooleanSupplier stopAsked) {
        try {
            return new Result(
                    Optional.of(jobs.get(target).run(source, context, Optional.empty(), watcher, stopAsked)),
                    Optional.empty());
        } catch (ToolException e) {
            return new Result(Optional.empty(), Optional.of(e));
        }
    }
}
