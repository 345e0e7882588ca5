package sharptally.api.job.keep;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import sharptally.core.accept.Acceptance;
import sharptally.core.accept.Acceptances;
import sharptally.core.accept.AtMost;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;
import sharptally.formats.job.AcceptedFile;
import sharptally.formats.run.MatchSummary;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunSummary.Accepted;
import sharptally.formats.run.RunSummary.AcceptedState;

/**
 * Counts what of a run's findings is accepted, by reading them once.
 *
 * @param atMost how many rows of a match may differ besides
 */
public record AcceptedRows(Acceptances acceptances, Function<TableMatch, Optional<AtMost>> atMost) {
    /** Of a run that was counted before, with what it was counted with. */
    public static AcceptedRows again(RunFolder run) {
        return new AcceptedRows(
                run.acceptedFile().map(AcceptedFile::read).orElse(Acceptances.NONE),
                match -> run.summaryOf(match).flatMap(MatchSummary::atMost).flatMap(AtMost::parse));
    }

    /** Whether it may change what is said of any of these matches. */
    public boolean mayAccept(List<TableMatch> matches) {
        return !acceptances.all().isEmpty()
                || matches.stream().anyMatch(m -> atMost.apply(m).isPresent());
    }

    /** The run's summary with what is accepted on the day of the run. */
    public RunSummary counted(RunFolder run) {
        LocalDate today = run.day();
        Counting counting = new Counting(acceptances.on(today), acceptances, new HashMap<>());
        List<MatchSummary> matches = new ArrayList<>();
        for (MatchSummary summary : run.summary().matches()) {
            TableMatch match = run.matches().stream()
                    .filter(m -> m.name().equals(summary.name()))
                    .findFirst()
                    .orElseThrow();
            long rows = counting.isAbout(match) && summary.differences() > 0 ? counting.count(run, match) : 0;
            matches.add(summary.accepting(rows, atMost.apply(match)));
        }
        List<Accepted> entries = acceptances.all().stream()
                .map(entry -> {
                    long rows = counting.rows.getOrDefault(entry, 0L);
                    return new Accepted(
                            entry.what().tables().wanted().get(0).text(),
                            AcceptedFile.words(entry),
                            entry.reason(),
                            entry.owner(),
                            entry.until().toString(),
                            rows,
                            state(entry, rows, run, today));
                })
                .toList();
        return run.summary().accepting(matches, entries);
    }

    private static AcceptedState state(Acceptance entry, long rows, RunFolder run, LocalDate today) {
        if (entry.isExpired(today)) {
            return AcceptedState.PAST;
        }
        boolean whole = run.matches().stream()
                .filter(entry.what()::wants)
                .flatMap(m -> run.summaryOf(m).stream())
                .anyMatch(m -> m.state() == RunState.COMPLETE && m.narrowed().isEmpty());
        return rows > 0 ? AcceptedState.USED : whole ? AcceptedState.NOT_MET : AcceptedState.NOT_LOOKED_AT;
    }

    private record Counting(Acceptances now, Acceptances all, Map<Acceptance, Long> rows) {
        boolean isAbout(TableMatch match) {
            return all.all().stream().anyMatch(a -> a.what().wants(match));
        }

        long count(RunFolder run, TableMatch match) {
            long[] accepted = {0};
            run.forEach(match, finding -> {
                long of = rowsOf(finding);
                List<Acceptance> by = now.by(match, finding);
                by.forEach(entry -> rows.merge(entry, of, Long::sum));
                accepted[0] += by.isEmpty() ? 0 : of;
                if (by.isEmpty()) {
                    all.by(match, finding).stream()
                            .filter(entry -> !now.all().contains(entry))
                            .forEach(entry -> rows.merge(entry, of, Long::sum));
                }
            });
            return accepted[0];
        }

        /** Of rows without a key there may be several alike. */
        private static long rowsOf(Finding finding) {
            return finding instanceof Finding.Missing missing
                    ? missing.times()
                    : finding instanceof Finding.Extra extra ? extra.times() : 1;
        }
    }
}
