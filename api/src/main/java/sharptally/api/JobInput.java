package sharptally.api;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.JobRequest;
import sharptally.api.job.Narrowing;
import sharptally.formats.sheet.Sheet;

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
        Sheet sheet = tally.read(jobFile);
        return new JobInput(
                new JobRequest(
                        tally.resolvedOfFile(sheet.source()),
                        tally.resolvedOfFile(sheet.target()),
                        Optional.of(sheet),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Narrowing.NONE,
                        sheet.allowEmpty()),
                Optional.of(jobFile));
    }
}
