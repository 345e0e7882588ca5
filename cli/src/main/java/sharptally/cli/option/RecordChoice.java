package sharptally.cli.option;

import java.util.Optional;
import picocli.CommandLine.Option;
import sharptally.api.job.JobRequest;
import sharptally.api.job.RecordJob;
import sharptally.cli.Version;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ToolException;
import sharptally.formats.job.JobFile;
import sharptally.formats.run.RunFolder;

/** Where the result of a run is recorded besides its folder. */
public final class RecordChoice {
    @Option(
            names = "--record",
            paramLabel = "DATABASE",
            description = {"Add the result to tables tally_… there.", "Default: what the job file says, else none."})
    Optional<String> record = Optional.empty();

    /**
     * Looks beforehand whether what is asked for can be done, so that nobody waits for a comparison in vain.
     *
     * @throws ToolException when the database can't be written to
     */
    public void check(JobRequest wish) {
        record.or(() -> wish.jobFile().flatMap(JobFile::record))
                .ifPresent(place -> new RecordJob(Connections.ofUser().resolve(place)).prepare());
    }

    /** Records that there is no run, where runs are recorded; a place that does not take it is told of. */
    public void failed(Screen screen, Optional<String> ofJobFile, String at, int exitCode) {
        try {
            record.or(() -> ofJobFile)
                    .ifPresent(place ->
                            new RecordJob(Connections.ofUser().resolve(place)).failed(at, Version.current(), exitCode));
        } catch (ToolException e) {
            screen.say("sharp-tally: this was not recorded: " + e.getMessage());
        }
    }

    /**
     * Records the run where that is wanted. A place that does not take it is told of; it does not hide differences.
     *
     * @return the exit code: the run's own, or where that is 0, the failure's
     */
    public int after(Screen screen, RunFolder run, JobRequest wish, int code) {
        Optional<String> place = record.or(() -> wish.jobFile().flatMap(JobFile::record));
        if (place.isEmpty()) {
            return code;
        }
        try {
            new RecordJob(Connections.ofUser().resolve(place.get())).record(run.summary());
            return code;
        } catch (ToolException e) {
            screen.say("sharp-tally: the result is in " + run.folder() + " and was not recorded: " + e.getMessage());
            return code == 0 ? e.kind().exitCode() : code;
        }
    }
}
