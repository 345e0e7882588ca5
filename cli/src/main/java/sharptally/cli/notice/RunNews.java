package sharptally.cli.notice;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.api.job.ReportJob;
import sharptally.core.finding.FindingFilter;
import sharptally.formats.job.Notice;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.Redaction;
import sharptally.report.text.RunText;
import sharptally.report.text.Style;
import sharptally.report.text.VerdictText;

/**
 * The result of a run.
 *
 * @param before the run of the same job before it
 */
public record RunNews(RunFolder run, Optional<RunSummary> before) implements News {
    private static final int TEXT_COLUMNS = 100;
    private static final long ROWS_ATTACHED = 2_000;

    @Override
    public boolean isDue(Notice.When when) {
        RunSummary now = run.summary();
        return switch (when) {
            case ALWAYS -> true;
            case FAILURE -> now.exitCode() != 0;
            case CHANGE ->
                before.isEmpty()
                        || before.get().exitCode() != now.exitCode()
                        || before.get().differences() != now.differences()
                        || before.get().acceptedRows() != now.acceptedRows();
        };
    }

    @Override
    public String title(Redaction redaction) {
        List<String> verdict = VerdictText.lines(HiddenRun.of(run.summary(), redaction));
        return verdict.get(verdict.size() - 1);
    }

    @Override
    public String text(Redaction redaction) {
        String lines = String.join(
                "\n", RunText.lines(HiddenRun.of(run.summary(), redaction), Style.PLAIN, TEXT_COLUMNS, false));
        return lines + "\n\nrun " + run.folder().toAbsolutePath() + "\n";
    }

    @Override
    public Object facts(Redaction redaction) {
        return HiddenRun.of(run.summary(), redaction);
    }

    @Override
    public Optional<Path> page(Redaction redaction, Path folder) throws IOException {
        new ReportJob(run, FindingFilter.ALL, redaction, Optional.of(ROWS_ATTACHED), false)
                .write(Set.of(ReportJob.Form.HTML), folder);
        return Optional.of(folder.resolve("report.html"));
    }
}
