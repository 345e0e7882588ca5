package sharptally.cli;

import java.math.BigDecimal;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.Context;
import sharptally.api.job.ExpectJob;
import sharptally.api.job.JobRequest;
import sharptally.api.job.TotalsJob;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.QuietChoice;
import sharptally.cli.option.RecordChoice;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.RowChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.place.part.Measure;
import sharptally.core.totals.Expectation;
import sharptally.core.totals.TotalsSettings;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.HiddenRun;
import sharptally.report.text.Style;
import sharptally.report.text.TextWidth;
import sharptally.report.text.TotalsText;

@Command(
        name = "totals",
        description = {
            "Counts and sums of both sides, worked out in the databases.",
            "Least and greatest values too; or with --expect, the figures of one table against what they should be."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:all figures are the same, or as expected",
            "1:some are not",
            "2:bad usage or job file",
            "3:a database can't be read",
            "5:a figure could not be worked out"
        },
        footer = {
            "",
            "Example: sharp-tally totals sqlite:old.db h2:new --by station_code,taken_at:month",
            "         sharp-tally totals h2:new#reading --expect \"rows >= 150000\""
        })
final class TotalsCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    JobChoice choice;

    @Mixin
    RowChoice rows;

    @Option(
            names = "--by",
            split = ",",
            paramLabel = "COLUMN",
            description = {
                "Per group of columns; times as taken_at:month.",
                "Columns of the source; times with :year, :month, :day or :hour."
            })
    List<String> by = List.of();

    @Option(
            names = "--figure",
            split = ",",
            paramLabel = "FIGURE",
            description = {
                "rows, filled, distinct, sum, min, max, mean, length or all. Default: all but distinct.",
                "distinct has to sort."
            })
    List<String> of = List.of();

    @Option(
            names = "--column",
            split = ",",
            paramLabel = "COLUMN",
            description = "Only these columns; * any letters, type:TYPE.")
    List<String> columns = List.of();

    @Option(
            names = "--within",
            paramLabel = "SHARE",
            description = {"Tolerance of floating sums. Default: 1e-9.", "Of the greater one; 1e-6 with 32 bits."})
    Optional<BigDecimal> within = Optional.empty();

    @Option(
            names = "--expect",
            paramLabel = "CONDITION",
            description = {
                "What a figure should be: \"rows >= 10\". Repeatable.",
                "Of one database, such as \"nulls(level_m) = 0\"."
            })
    List<String> expect = List.of();

    @Option(names = "--all", description = "List what is the same, too, however much it is.")
    boolean all;

    @Mixin
    FormatChoice format;

    @Mixin
    QuietChoice quiet;

    @Mixin
    RedactChoice redact;

    @Mixin
    RecordChoice recording;

    TotalsCommand(Screen screen) {
        this.screen = screen;
    }

    @SuppressWarnings("try")
    @Override
    public Integer call() {
        quiet.check("totals", format.isJson(), "--format json");
        quiet.check("totals", all, "--all");
        if (!expect.isEmpty()) {
            return expectations();
        }
        JobRequest wish = choice.wish().narrowedBy(rows.narrowing());
        recording.check(wish);
        TotalsJob.Result result;
        try (Screen.Status status = quiet.of(screen).status("connecting, and working out totals")) {
            result = new TotalsJob(wish, totals(), choice.runs, choice.workersOf(wish))
                    .run(Context.ofProcess(Version.current()));
        }
        if (!format.isJson() && !result.run().summary().totals().isEmpty()) {
            print(result.run());
        }
        result.failures().forEach(f -> screen.say("sharp-tally: not worked out: " + f.getMessage()));
        int code = result.failures().stream()
                .findFirst()
                .map(f -> f.kind().exitCode())
                .orElseGet(() -> result.run().summary().exitCode());
        code = recording.after(screen, result.run(), wish, code);
        return format.isJson() ? json(result.run(), code) : code;
    }

    private int expectations() {
        if (choice.source.isEmpty() || choice.target.isPresent() || choice.jobFile.isPresent()) {
            throw usage(
                    "--expect goes with one database", "write what a job file's tables should hold under expect there");
        }
        List<Expectation> wanted = expect.stream()
                .map(text -> Expectation.parse(text)
                        .orElseThrow(() -> usage(
                                "not an expectation: " + text,
                                "write one such as \"rows >= 1000\" or \"nulls(name) = 0\"")))
                .toList();
        var place = Connections.ofUser().resolve(choice.source.get());
        RunFolder run = new ExpectJob(place, wanted, choice.runs).run(Context.ofProcess(Version.current()));
        int code = run.summary().exitCode();
        if (format.isJson()) {
            return json(run, code);
        }
        print(run);
        return code;
    }

    private void print(RunFolder run) {
        RunSummary summary = HiddenRun.of(run.summary(), redact.redaction());
        if (quiet.quiet) {
            screen.print(List.of(TotalsText.verdict(summary, screen.style()) + "; run " + run.folder()));
            return;
        }
        screen.print(TotalsText.lines(summary, screen.style(), screen.columns(), all));
        if (!summary.notes().isEmpty()) {
            screen.print(List.of(screen.style().paint("notes", Style.Meaning.HEADING)));
            summary.notes().forEach(note -> screen.print(TextWidth.note(note, screen.columns())));
            screen.print(List.of(""));
        }
        screen.print(List.of(TotalsText.verdict(summary, screen.style()), "run " + run.folder()));
    }

    private int json(RunFolder run, int code) {
        return JsonResult.done(
                screen,
                "totals",
                code,
                new CompareCommand.Result(run, HiddenRun.of(run.summary(), redact.redaction())));
    }

    /** Empty where the user says nothing of it, so that a job file decides. */
    private Optional<TotalsSettings> totals() {
        if (by.isEmpty() && of.isEmpty() && columns.isEmpty() && within.isEmpty()) {
            return Optional.empty();
        }
        Set<Measure> measures = EnumSet.noneOf(Measure.class);
        of.forEach(word -> measures.addAll(Measure.named(word)
                .orElseThrow(() -> usage(
                        "no such figure: " + word,
                        "there are rows, filled, distinct, sum, min, max, mean, length and all"))));
        return Optional.of(new TotalsSettings(
                measures.isEmpty() ? TotalsSettings.CHEAP : measures,
                by.stream().map(TotalsSettings.By::parse).toList(),
                columns.stream().map(ColumnChoice::new).toList(),
                within));
    }

    private static ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, "totals", mend);
    }
}
