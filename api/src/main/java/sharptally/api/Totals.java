package sharptally.api;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.JobRequest;
import sharptally.api.job.TotalsJob;
import sharptally.core.match.text.Glob;
import sharptally.core.totals.TotalsResult;
import sharptally.formats.run.RunFolder;

/** Totals of two databases before they are worked out. Used by one thread. */
public final class Totals {
    private final SharpTally tally;
    private final JobInput input;
    private List<String> only = List.of();

    Totals(SharpTally tally, JobInput input) {
        this.tally = tally;
        this.input = input;
    }

    /** Only these tables of the source; {@code *} stands for any letters. */
    public Totals only(String... tables) {
        only = List.of(tables);
        return this;
    }

    /**
     * One figure of both sides.
     *
     * @param column empty for the number of rows
     * @param figure such as {@code rows}, {@code sum}, {@code max}
     * @param group values by which rows are grouped; empty for all rows
     * @param source as text, exact; empty where the side has no such group
     */
    public record Figure(
            String table,
            String column,
            String figure,
            List<String> group,
            Optional<String> source,
            Optional<String> target,
            boolean same) {
        public Figure {
            group = List.copyOf(group);
        }
    }

    /**
     * Works them out.
     *
     * @return figures of all tables; of grouped ones only those that differ
     * @throws SharpTallyException also when one of several tables fails
     */
    public List<Figure> run() {
        return Work.done(interrupted -> {
            Path folder = Folders.temporary(tally.context().temporary());
            try {
                JobRequest from = input.request();
                JobRequest request = new JobRequest(
                        from.source(),
                        from.target(),
                        from.jobFile(),
                        List.of(),
                        List.of(),
                        only.stream().map(Glob::new).toList(),
                        List.of(),
                        from.narrowing(),
                        from.allowEmpty());
                TotalsJob.Result result = new TotalsJob(request, Optional.empty(), folder, 1).run(tally.context());
                if (!result.failures().isEmpty()) {
                    throw result.failures().get(0);
                }
                return figures(result.run());
            } finally {
                Folders.remove(folder);
            }
        });
    }

    private static List<Figure> figures(RunFolder run) {
        List<Figure> figures = new ArrayList<>();
        for (TotalsResult totals : run.summary().totals()) {
            totals.lines()
                    .forEach(line -> figures.add(new Figure(
                            totals.match(),
                            line.column(),
                            line.measure(),
                            line.group(),
                            line.source(),
                            line.target(),
                            line.held())));
        }
        return figures;
    }
}
