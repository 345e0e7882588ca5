package sharptally.cli.option;

import java.time.Duration;
import java.util.Optional;
import picocli.CommandLine.Option;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** How a comparison goes about with databases that others work on meanwhile. */
public final class LiveChoice {
    @Option(
            names = "--snapshot",
            negatable = true,
            defaultValue = "true",
            fallbackValue = "true",
            description = {
                "Read a consistent snapshot (default), or not.",
                "All tables of a side are read in one state of its database, where the engine can. With --no-snapshot each table in its own, and no long transaction."
            })
    public boolean snapshot = true;

    @Option(
            names = "--max-snapshot-age",
            paramLabel = "TIME",
            description = {
                "Let no snapshot get older, such as 30m.",
                "A server keeps old rows as long as somebody may still read them. Then reading goes on in a later snapshot."
            })
    Optional<String> maxSnapshotAge = Optional.empty();

    @Option(
            names = "--settle",
            paramLabel = "TIME",
            description = {
                "Look again at what differs, for 5m at most.",
                "On live systems: until it is the same, or has differed in the same way for so long. Rows that still change after"
                        + " twice that are told apart, and nothing is proved of them: exit code 5."
            })
    public Optional<String> settle = Optional.empty();

    /**
     * Where several comparisons share one source.
     *
     * @throws ToolException when it can't be read as is asked for
     */
    public void checkShared() {
        if (maxSnapshotAge.isPresent()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "several targets read one snapshot of the source, which gets as old as it takes",
                    "compare --max-snapshot-age",
                    "name one target, or leave it out");
        }
    }

    /** How old a snapshot may get. */
    public Optional<Long> snapshotSeconds() {
        if (maxSnapshotAge.isPresent() && !snapshot) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "without a snapshot none gets old",
                    "compare --max-snapshot-age",
                    "leave --no-snapshot out");
        }
        Optional<Long> seconds = maxSnapshotAge.map(
                text -> Durations.parse("--max-snapshot-age", text).toSeconds());
        if (seconds.filter(s -> s < 1).isPresent()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a snapshot lives for a second at least",
                    "compare --max-snapshot-age",
                    "say 1s or more");
        }
        return seconds;
    }

    /** How long lag may last. */
    public Optional<Duration> settleTime() {
        Optional<Duration> time = settle.map(text -> Durations.parse("--settle", text));
        time.filter(t -> t.toMillis() < 1).ifPresent(t -> {
            throw new ToolException(
                    ErrorKind.USAGE, "lag takes longer than no time", "compare --settle", "say 1s or more");
        });
        return time;
    }
}
