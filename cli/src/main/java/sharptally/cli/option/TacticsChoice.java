package sharptally.cli.option;

import java.time.Clock;
import java.util.Optional;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;
import picocli.CommandLine.Spec.Target;
import sharptally.api.job.Narrowing;
import sharptally.core.compare.Method;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.RelativeTime;

/** How rows are compared, and which. */
public final class TacticsChoice {
    @Spec(Target.MIXEE)
    CommandSpec command;

    @Option(
            names = "--method",
            paramLabel = "METHOD",
            defaultValue = "auto",
            description = {"${COMPLETION-CANDIDATES}. Default: auto.", "auto measures on a sample and picks."})
    public Method method = Method.AUTO;

    @Mixin
    RowChoice rows = new RowChoice();

    @Option(
            names = "--key-range",
            paramLabel = "FROM..TO",
            description = {
                "Key range: FROM inclusive, TO exclusive.",
                "Either end may be left out. Values of several key columns with commas between."
            })
    Optional<String> keys = Optional.empty();

    @Option(
            names = "--sample",
            paramLabel = "SHARE",
            description = {
                "Only this share of rows, as 1%%, by their keys.",
                "Chosen by a hash of the key: the same rows each time."
            })
    Optional<String> sample = Optional.empty();

    @Option(
            names = "--changed-since",
            arity = "2",
            paramLabel = "COLUMN VALUE",
            hideParamSyntax = true,
            description = {
                "Only rows with this value or a later one, as 7d.",
                "In the column, on either side. Times may be given from now, in UTC: 90m, 12h, 7d, 2w, 3mo, today, last-month …"
            })
    String[] changedSince = new String[0];

    @Option(
            names = "--by-partition",
            description = {
                "Compare each partition by itself.",
                "As the source, else the target, divides a table, and what is in none of its partitions; each by a name of its"
                        + " own, such as reading/2026_03, for --table too."
            })
    boolean byPartition;

    @Option(
            names = "--range-rows",
            paramLabel = "N",
            description = {
                "Rows compared at a time. Default: 1000000.",
                "A range that is finished is kept as such, for --resume."
            })
    public Optional<String> rangeRows = Optional.empty();

    @Option(names = "--stop-after-findings", paramLabel = "N", description = "Stop after N findings, with exit code 5.")
    public Optional<String> limitFindings = Optional.empty();

    @Option(
            names = "--stop-after",
            paramLabel = "TIME",
            description = "Stop after this time, as 20m, with exit code 5.")
    Optional<String> stopAfter = Optional.empty();

    @Option(names = "--pace", paramLabel = "N", description = "Read at most N rows a second from each side.")
    public Optional<String> pace = Optional.empty();

    public boolean isNarrowing() {
        return !narrowing().equals(Narrowing.NONE);
    }

    public Narrowing narrowing() {
        Narrowing chosen = rows.narrowing();
        return new Narrowing(
                chosen.where(),
                keys,
                sample.map(this::share),
                changedSince.length == 0
                        ? Optional.empty()
                        : Optional.of(new Narrowing.ChangedSince(
                                changedSince[0],
                                RelativeTime.parse(changedSince[1], Clock.systemUTC())
                                        .orElse(changedSince[1]))),
                chosen.conditions(),
                byPartition);
    }

    private double share(String text) {
        boolean percent = text.endsWith("%");
        String digits = percent ? text.substring(0, text.length() - 1) : text;
        double share = digits.matches("\\d{1,9}(\\.\\d{1,12})?") ? Double.parseDouble(digits) : 0;
        share = percent ? share / 100 : share;
        if (share <= 0 || share > 1) {
            throw usage("--sample", text, "write a share such as 1% or 0.01");
        }
        return share;
    }

    public Optional<Long> rangeRows() {
        return rangeRows.map(text -> count("--range-rows", text));
    }

    public Optional<Long> limitFindings() {
        return limitFindings.map(text -> count("--stop-after-findings", text));
    }

    public Optional<Long> pace() {
        return pace.map(text -> count("--pace", text));
    }

    public Optional<Long> stopAfterSeconds() {
        return stopAfter.map(text -> {
            long seconds = Durations.parse("--stop-after", text).toSeconds();
            if (seconds == 0) {
                throw usage("--stop-after", text, "write a number and s, m or h, such as 90s");
            }
            return seconds;
        });
    }

    private long count(String option, String text) {
        if (!text.matches("[1-9]\\d{0,17}")) {
            throw usage(option, text, "write a whole number above 0");
        }
        return Long.parseLong(text);
    }

    private ToolException usage(String option, String text, String mend) {
        return new ToolException(ErrorKind.USAGE, "not a value for " + option + ": " + text, command.name(), mend);
    }
}
