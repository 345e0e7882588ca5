package sharptally.cli.notice;

import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import sharptally.formats.job.Notice;
import sharptally.report.findings.Redaction;

/**
 * A comparison that did not come to a result: nothing is known of the rows.
 *
 * @param jobFile its whole path
 * @param at when it began, or failed
 * @param what in one line, without values
 */
public record FailureNews(String jobFile, String at, String what, int exitCode) implements News {
    @Override
    public boolean isDue(Notice.When when) {
        return true;
    }

    @Override
    public String title(Redaction redaction) {
        return "failed: " + what;
    }

    @Override
    public String text(Redaction redaction) {
        return "failed, so nothing was proved: " + what + "\n\njob file " + jobFile + "\nat " + at + "\nexit code "
                + exitCode + "\n";
    }

    @Override
    public Object facts(Redaction redaction) {
        return new TreeMap<>(
                Map.of("state", "failed", "job", jobFile, "at", at, "failure", what, "exit-code", exitCode));
    }

    @Override
    public Optional<Path> page(Redaction redaction, Path folder) {
        return Optional.empty();
    }
}
