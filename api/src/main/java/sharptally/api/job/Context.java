package sharptally.api.job;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.stream.RateLimit;

/**
 * What a job takes from around it, so that it takes nothing from the process.
 *
 * @param tool version of this program, for the record
 * @param temporary folder for what is not kept
 */
public record Context(String tool, Clock clock, Path temporary) {
    /** Of this process. */
    public static Context ofProcess(String tool) {
        return new Context(tool, Clock.systemUTC(), Path.of(System.getProperty("java.io.tmpdir")));
    }

    /** What comparing takes; nobody follows it and nobody stops it yet. */
    public ComparisonContext comparing(RateLimit limit) {
        return ComparisonContext.quiet(temporary).within(limit);
    }

    public Instant now() {
        return clock.instant();
    }

    /** The time to the second, as records have it. */
    public String second() {
        return now().truncatedTo(ChronoUnit.SECONDS).toString();
    }
}
