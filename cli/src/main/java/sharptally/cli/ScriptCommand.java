package sharptally.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.job.ScriptJob;
import sharptally.core.match.Glob;
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

    @Option(
            names = "--only",
            split = ",",
            paramLabel = "TABLE",
            description = "Only these matches; * stands for any letters.")
    List<String> only = List.of();

    @Option(
            names = "--out",
            paramLabel = "FILE",
            description = "Where to write it; the undo script goes beside it. Default: script.sql in the run's folder.")
    Optional<Path> out = Optional.empty();

    ScriptCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.openComparison();
        Path script = out.orElseGet(() -> run.folder().resolve("script.sql"));
        ScriptJob.Written written =
                new ScriptJob(run, script, only.stream().map(Glob::new).toList()).write();
        var style = screen.style();
        screen.print(ChangeText.lines(written.counts(), style));
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
