package sharptally.cli.notice;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Optional;
import sharptally.formats.job.Notice;
import sharptally.report.findings.Redaction;

/** What there is to tell of a job: the result of a run, or that there is none. */
public interface News {
    boolean isDue(Notice.When when);

    /** In one line, for the subject of a mail. */
    String title(Redaction redaction);

    /** For people, plain. */
    String text(Redaction redaction);

    /** For programs: what is sent as JSON. */
    Object facts(Redaction redaction);

    /** The page that goes with it, written into a folder; empty for none. */
    Optional<Path> page(Redaction redaction, Path folder) throws IOException;
}
