package sharptally.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import sharptally.api.job.HistoryJob;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.HistoryText;
import sharptally.report.text.HistoryText.Line;

@Command(
        name = "history",
        description = {"Earlier runs of the same job: what is new, gone, stayed."},
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:listed", "2:there is no run"},
        footer = {"", "Example: sharp-tally history --job tide.yaml --last 30"})
final class HistoryCommand implements Callable<Integer> {
    private final Screen screen;

    @Option(
            names = "--runs",
            paramLabel = "FOLDER",
            defaultValue = RunChoice.DEFAULT_RUNS,
            description = "Where runs are kept. Default: ${DEFAULT-VALUE}.")
    Path runs = Path.of(RunChoice.DEFAULT_RUNS);

    @Option(
            names = "--job",
            paramLabel = "FILE",
            description = "Runs of this job file. Default: those of the same job as the latest run.")
    Optional<Path> jobFile = Optional.empty();

    @Option(names = "--last", paramLabel = "N", defaultValue = "20", description = "How many runs. Default: 20.")
    int last = 20;

    @Option(
            names = "--format",
            paramLabel = "FORM",
            defaultValue = "text",
            description = "text or json. Default: text.")
    Form form = Form.TEXT;

    /** The forms of the list. */
    enum Form {
        TEXT,
        JSON
    }

    HistoryCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (last < 1) {
            throw new ToolException(ErrorKind.USAGE, "--last should be 1 or more, not " + last, "history", "");
        }
        RunSummary latest = RunFolder.latest(runs, this::isOfJobFile).summary();
        List<Line> lines = HistoryJob.of(
                runs, run -> !run.matches().isEmpty() && run.summary().isOfSameJob(latest), last);
        if (form == Form.JSON) {
            CompareCommand.printJson(screen, lines, sharptally.formats.run.Json.MAPPER);
            return 0;
        }
        screen.print(HistoryText.lines(lines, screen.style(), screen.columns()));
        return 0;
    }

    private boolean isOfJobFile(RunFolder folder) {
        return !folder.matches().isEmpty() && RunChoice.isOf(jobFile, folder);
    }
}
