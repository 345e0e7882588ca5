package sharptally.api.job;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.keep.RunBook;
import sharptally.core.compare.Pair;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.Checks;
import sharptally.core.totals.TotalsComparison;
import sharptally.core.totals.TotalsSettings;
import sharptally.formats.job.JobFile;
import sharptally.formats.run.RunFolder;

/**
 * Totals of two places, and what is expected of them, kept in a run folder.
 *
 * @param totals which totals; empty for what the job file says, else the usual ones
 * @param workers how many matches are worked on at once
 */
public record TotalsJob(JobRequest wish, Optional<TotalsSettings> totals, Path runs, int workers) {
    /** A finished run, and the matches that could not be worked out, with the reason. */
    public record Result(RunFolder run, List<ToolException> failures) {}

    /**
     * @param context what it takes from around it
     */
    public Result run(Context context) {
        try (Place from = wish.source().open();
                Place to = wish.target().open()) {
            JobPlan plan = wish.plan(from, to);
            RunBook book = RunBook.ofTotals(runs, context, wish, plan, new Pair(from, to));
            book.lone(LoneTables.counted(plan.lone(), from, to));
            ToolException[] failures = new ToolException[plan.matches().size()];
            Workers.run(wish.allowed(workers), failures.length, new Pair(from, to), (i, pair) -> {
                try {
                    totals(wish, plan.matches().get(i), pair, book, i, totals);
                } catch (ToolException e) {
                    failures[i] = e;
                }
            });
            List<ToolException> failed = new ArrayList<>();
            for (ToolException failure : failures) {
                if (failure != null) {
                    failed.add(failure);
                }
            }
            return new Result(book.close(failed.isEmpty()), failed);
        }
    }

    /** Works out the totals of one match, and looks at what the job file expects of its figures. */
    static void totals(
            JobRequest wish, TableMatch match, Pair places, RunBook book, int place, Optional<TotalsSettings> asked) {
        TotalsSettings totals = asked.or(() -> wish.totalsOf(match)).orElse(TotalsSettings.USUAL);
        var result = new TotalsComparison(match, totals).run(places.source(), places.target());
        List<CheckResult> checks = new ArrayList<>();
        Optional<JobFile.Match> entry = wish.entryOf(match);
        if (!wish.narrowing().equals(Narrowing.NONE)) {
            if (entry.filter(e ->
                            !e.expectSource().isEmpty() || !e.expectTarget().isEmpty())
                    .isPresent()) {
                book.note(match.name() + ": expectations are of all rows, and not all were asked for: not looked at");
            }
            book.totals(place, Optional.of(result), checks);
            return;
        }
        entry.filter(e -> !e.expectSource().isEmpty())
                .ifPresent(e -> checks.addAll(Checks.run(places.source(), "source", match.source(), e.expectSource())));
        entry.filter(e -> !e.expectTarget().isEmpty())
                .ifPresent(e -> checks.addAll(Checks.run(places.target(), "target", match.target(), e.expectTarget())));
        book.totals(place, Optional.of(result), checks);
    }
}
