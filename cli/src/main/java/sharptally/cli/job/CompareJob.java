package sharptally.cli.job;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import sharptally.core.compare.MatchResult;
import sharptally.core.compare.Progress;
import sharptally.core.compare.TableComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.engines.Engines;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunWriter;

/**
 * One comparison of two places from opening them to a finished run folder.
 *
 * @param workers how many matches are compared at once
 * @param totals of which matches totals are worked out before their rows are compared
 */
public record CompareJob(JobWish wish, Path runs, int workers, Totals totals) {
    /** Whether totals stand beside the comparison of rows. */
    public enum Totals {
        NONE,
        /** Of those matches of which the sheet says something about totals. */
        SHEET,
        ALL;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** Follows the work; asked once per match for what is told of its rows. Called by several threads. */
    public interface Watcher {
        /** Called before a match is compared; what it gives back is told of its rows, and closed at its end. */
        Watch begin(TableMatch match, long expectedRows);
    }

    /** Follows one match. */
    public interface Watch extends Progress, AutoCloseable {
        @Override
        void close();
    }

    /**
     * @param tool version of this program, for the record
     * @throws ToolException when nothing could be compared at all; the failure of one match of several is in the
     *     result instead
     */
    public RunFolder run(String tool, Watcher watcher, BooleanSupplier stopAsked) {
        try (Place from = Engines.of(wish.source().address()).open(wish.source());
                Place to = Engines.of(wish.target().address()).open(wish.target())) {
            JobPlan plan = wish.plan(from, to);
            RunBook book = new RunBook(runs, tool, wish, plan, from, to, true);
            MatchSummary[] finished = new MatchSummary[plan.matches().size()];
            boolean oneState = Workers.run(workers, finished.length, from, to, (i, one, other) -> {
                TableMatch match = plan.matches().get(i);
                finished[i] = compare(match, one, other, book, i, watcher, stopAsked);
                book.finished(i, finished[i]);
            });
            if (!oneState) {
                book.note("several workers read over connections of their own, each seeing the state of its beginning");
            }
            return book.close(Arrays.stream(finished).allMatch(m -> m.state() == RunState.COMPLETE));
        }
    }

    private MatchSummary compare(
            TableMatch match,
            Place from,
            Place to,
            RunBook book,
            int place,
            Watcher watcher,
            BooleanSupplier stopAsked) {
        MatchResult result;
        RunWriter writer = book.writer();
        try (RunWriter.FindingsOut findings = writer.openFindings(match);
                Watch watch = watcher.begin(match, expectedRows(match, from))) {
            if (stopAsked.getAsBoolean()) {
                throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", match.name(), "not begun");
            }
            if (totals == Totals.ALL || totals == Totals.SHEET && saysTotals(match)) {
                TotalsJob.totals(wish, match, from, to, book, place, Optional.empty());
            }
            var outcome = new TableComparison(match, from, to, watch, stopAsked).run(findings);
            result = new MatchResult(match, Optional.of(outcome), Optional.empty());
        } catch (ToolException e) {
            result = new MatchResult(match, Optional.empty(), Optional.of(e));
        }
        return MatchSummary.of(result, writer.findingsFile(match));
    }

    private boolean saysTotals(TableMatch match) {
        return wish.entryOf(match)
                .filter(e -> e.totals().isPresent()
                        || !e.expectSource().isEmpty()
                        || !e.expectTarget().isEmpty())
                .isPresent();
    }

    private static long expectedRows(TableMatch match, Place from) {
        boolean whole =
                match.source().query().isEmpty() && match.source().where().isEmpty();
        return whole ? from.estimate(match.source().name()).rows().orElse(-1) : -1;
    }
}
