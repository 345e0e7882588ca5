package sharptally.api;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.job.JobFile;

/**
 * Which databases, and what of them.
 *
 * @param jobFile empty where there is none
 */
record JobInput(JobRequest request, Optional<Path> jobFile) {
    static JobInput of(SharpTally tally, Database source, Database target) {
        return new JobInput(
                new JobRequest(
                        source.endpoint(tally),
                        target.endpoint(tally),
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Narrowing.NONE,
                        false),
                Optional.empty());
    }

    static JobInput of(SharpTally tally, Path jobFile) {
        JobFile read = tally.read(jobFile);
        if (read.targets().size() > 1) {
            throw new ToolException(
                    ErrorKind.JOB_FILE,
                    "this job file names several targets, of which a job compares one",
                    jobFile.toString(),
                    "write one for each that includes it, with a target of its own");
        }
        return new JobInput(
                new JobRequest(
                        tally.resolvedOfFile(read.source()),
                        tally.resolvedOfFile(read.target()),
                        Optional.of(read),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Narrowing.NONE,
                        read.allowEmpty()),
                Optional.of(jobFile));
    }
}
