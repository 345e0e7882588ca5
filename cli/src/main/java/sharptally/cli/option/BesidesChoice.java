package sharptally.cli.option;

import java.nio.file.Path;
import java.util.Optional;
import picocli.CommandLine.Option;
import sharptally.api.job.CompareRequest;

/** What a comparison does beside comparing rows. */
public final class BesidesChoice {
    @Option(
            names = "--accepted",
            paramLabel = "FILE",
            description = {
                "Count the differences in this file apart.",
                "Known and accepted for now, each with a reason, an owner and its last day; see docs/accepted.md. Default: what the"
                        + " job file says."
            })
    Optional<Path> accepted = Optional.empty();

    @Option(
            names = "--integrity",
            description = {
                "Also look at constraints, on both sides.",
                "Rows that refer to none, values that repeat or are NULL where the other side refuses that, numbers given by the"
                        + " database that are behind."
            })
    boolean integrity;

    @Option(
            names = "--declarations",
            description = {
                "Also look at what tables are declared to be.",
                "Keys, indexes, checks, defaults, triggers, rights: what differs stands in the result and in reports, and changes no"
                        + " verdict; with --strict-shape, the exit code."
            })
    boolean declarations;

    /** What is asked for, and the run that is relied on. */
    public CompareRequest.Besides with(Optional<String> since) {
        return new CompareRequest.Besides(accepted.map(Path::toString), integrity, declarations, since);
    }
}
