package sharptally.api.job.change;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.RunFolder;

/** Whether a script is the one that a run wrote, to the letter. */
public record ScriptCheck(RunFolder run, Path script) {
    /**
     * A sentence that says who wrote it and when.
     *
     * @throws ToolException as {@code REFUSED} when the run wrote no such script
     */
    public String told() {
        if (!Files.isReadable(script)) {
            throw new ToolException(ErrorKind.USAGE, "no such script", script.toString(), "name the file");
        }
        return new AuditLog(run, Clock.systemUTC())
                .writer(AuditLog.sha256(script))
                .map(who -> script + " is as it was written " + who)
                .orElseThrow(() -> new ToolException(
                        ErrorKind.REFUSED,
                        "this run wrote no such script: it was edited or cut short since, or is of another run",
                        script.toString(),
                        "do not run it; write it again with sharp-tally script"));
    }
}
