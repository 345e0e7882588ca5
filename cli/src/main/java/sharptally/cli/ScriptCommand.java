package sharptally.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.job.ScriptJob;
import sharptally.core.script.ScriptWriter;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Style.Meaning;

@Command(
        name = "script",
        description = "Writes the SQL that makes the target like the source, and the SQL that takes it back.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:written", "2:no such run", "4:refused: the run did not go to its end", "5:can't be written"},
        footer = {"", "Example: sharp-tally script --out mend.sql"})
final class ScriptCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    MendChoice mend = new MendChoice();

    @Option(
            names = "--out",
            paramLabel = "FILE",
            description = "Where to write it; the undo script goes beside it. Default: script.sql in the run's folder.")
    Optional<Path> out = Optional.empty();

    @Option(
            names = "--style",
            paramLabel = "STYLE",
            description =
                    "row: a statement for each row, easiest to read; batch: one for many rows, faster. Default: row.")
    ScriptWriter.Style style = ScriptWriter.Style.ROW;

    @Option(
            names = "--no-guards",
            description = "Plain statements that find rows by their keys alone, whatever they hold by then.")
    boolean noGuards;

    ScriptCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.openComparison();
        Path script = out.orElseGet(() -> run.folder().resolve("script.sql"));
        ScriptJob.Written written = new ScriptJob(mend.of(run), script, style, !noGuards).write();
        var style = screen.style();
        screen.print(ChangeText.lines(written.counts(), style));
        written.leftOut().ifPresent(left -> screen.print(List.of(left)));
        written.warnings().forEach(warning -> screen.say("sharp-tally: warning: " + warning));
        screen.print(List.of(
                "",
                "script  " + written.script(),
                "undo    " + written.undo(),
                "",
                style.paint("next", Meaning.QUIET) + "  read it, then one of",
                "      " + style.paint("sharp-tally apply" + choice.arguments(run), Meaning.COMMAND)
                        + style.paint("    the same changes, done from here", Meaning.QUIET),
                "      " + style.paint(written.howToRun(), Meaning.COMMAND)));
        return 0;
    }
}
