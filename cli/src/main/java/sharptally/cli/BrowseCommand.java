package sharptally.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.browse.FullScreen;
import sharptally.cli.browse.View;
import sharptally.cli.option.RedactChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;

@Command(
        name = "browse",
        description = {
            "Moves through what differs on a full screen.",
            "Rows that are marked there are saved for script and apply."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:seen", "2:no such run, or no terminal"},
        footer = {"", "Example: sharp-tally browse --save-selection marked.jsonl"})
final class BrowseCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Option(
            names = "--save-selection",
            paramLabel = "FILE",
            description = {
                "Where s saves marked rows. Default: in the run.",
                "As selection.jsonl; for script, apply and show."
            })
    Optional<Path> save = Optional.empty();

    @Mixin
    RedactChoice redact = new RedactChoice();

    BrowseCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.openComparison();
        if (!screen.terminal()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "there is no terminal to browse on",
                    "browse",
                    "see sharp-tally show, or sharp-tally report for a page");
        }
        Path selection = save.orElse(run.folder().resolve("selection.jsonl"));
        try (View view = new View(run, selection, redact.redaction(), screen.style())) {
            FullScreen.show(view);
            return 0;
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "the terminal can't be used: " + e.getMessage(),
                    "browse",
                    "see sharp-tally show, or sharp-tally report for a page",
                    e);
        }
    }
}
