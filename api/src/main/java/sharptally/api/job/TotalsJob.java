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
import sharptally.core.place.Side;
import sharptally.core.totals.CheckResult;
import sharptally.core.totals.Checks;
import sharptally.core.totals.TotalsComparison;
import sharptally.core.totals.TotalsLine;
import sharptally.core.totals.TotalsResult;
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
                    ofMatch(plan.matches().get(i), pair, book, i);
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

    /** Works out the totals of one match alone: what only one side has is told here, as nothing else will tell it. */
    private void ofMatch(TableMatch match, Pair places, RunBook book, int place) {
        TotalsSettings settings = settings(wish, match, totals);
        TotalsResult result = new TotalsComparison(match, settings).run(places.source(), places.target());
        book.totals(
                place,
                Optional.of(settings.columns().isEmpty() ? withLone(result, match) : result),
                checks(wish, match, places, book));
    }

    /** Works out the totals of one match, and looks at what the job file expects of its figures. */
    static void totals(JobRequest wish, TableMatch match, Pair places, RunBook book, int place) {
        TotalsSettings settings = settings(wish, match, Optional.empty());
        TotalsResult result = new TotalsComparison(match, settings).run(places.source(), places.target());
        book.totals(place, Optional.of(result), checks(wish, match, places, book));
    }

    private static TotalsSettings settings(JobRequest wish, TableMatch match, Optional<TotalsSettings> asked) {
        return asked.or(() -> wish.totalsOf(match)).orElse(TotalsSettings.USUAL);
    }

    /** A column that one side lacks has no figure to compare, and so differs. */
    private static TotalsResult withLone(TotalsResult result, TableMatch match) {
        List<TotalsLine> lines = new ArrayList<>(result.lines());
        match.lone()
                .forEach(lone -> lines.add(new TotalsLine(
                        List.of(),
                        lone.column(),
                        "column",
                        Optional.of("there").filter(there -> lone.side() == Side.SOURCE),
                        Optional.of("there").filter(there -> lone.side() == Side.TARGET),
                        Optional.empty(),
                        false)));
        int more = match.lone().size();
        return new TotalsResult(
                result.match(),
                result.source(),
                result.target(),
                result.by(),
                result.groups(),
                result.figures() + more,
                result.differing() + more,
                lines,
                result.leftOut());
    }

    /** What the job file expects of figures; nothing where not all rows were asked for, as it is about all of them. */
    private static List<CheckResult> checks(JobRequest wish, TableMatch match, Pair places, RunBook book) {
        List<CheckResult> checks = new ArrayList<>();
        Optional<JobFile.Match> entry = wish.entryOf(match)
                .filter(e -> !e.expectSource().isEmpty() || !e.expectTarget().isEmpty());
        if (entry.isEmpty()) {
            return checks;
        }
        if (!wish.narrowing().equals(Narrowing.NONE)) {
            book.note(match.name() + ": expectations are of all rows, and not all were asked for: not looked at");
            return checks;
        }
        JobFile.Match expected = entry.get();
        if (!expected.expectSource().isEmpty()) {
            checks.addAll(Checks.run(places.source(), "source", match.source(), expected.expectSource()));
        }
        if (!expected.expectTarget().isEmpty()) {
            checks.addAll(Checks.run(places.target(), "target", match.target(), expected.expectTarget()));
        }
        return checks;
    }
}
