package sharptally.cli;

import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.HistoryJob;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.HistoryText;
import sharptally.report.text.HistoryText.Line;

@Command(
        name = "history",
        description = {"Earlier runs of the same job: what is new, gone, stayed."},
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:listed", "2:there is no run"},
        footer = {"", "Example: sharp-tally history --job tide.yaml --limit 30"})
final class HistoryCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Option(names = "--limit", paramLabel = "N", defaultValue = "20", description = "At most N runs. Default: 20.")
    int last = 20;

    @Mixin
    FormatChoice format = new FormatChoice();

    HistoryCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (last < 1) {
            throw new ToolException(ErrorKind.USAGE, "--limit should be 1 or more, not " + last, "history", "");
        }
        RunFolder latest = choice.openComparison();
        List<Line> lines = HistoryJob.of(
                choice.folderOf(latest),
                run -> !run.matches().isEmpty() && run.summary().isOfSameJob(latest.summary()),
                last);
        if (format.isJson()) {
            return JsonResult.done(screen, "history", 0, Map.of("runs", lines));
        }
        screen.print(HistoryText.lines(lines, screen.style(), screen.columns()));
        return 0;
    }
}
