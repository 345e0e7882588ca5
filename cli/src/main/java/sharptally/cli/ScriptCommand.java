package sharptally.cli;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.change.RewriteJob;
import sharptally.api.job.change.ScriptCheck;
import sharptally.api.job.change.ScriptJob;
import sharptally.api.job.change.TargetChanges;
import sharptally.cli.file.FileChanges;
import sharptally.cli.help.Words;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.MendChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.option.SafeguardChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.script.write.ScriptForm;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Style.Meaning;

@Command(
        name = "script",
        description = {
            "Writes the SQL that fixes the target, and its undo.",
            "Where the target is a file: a new file, in which it is fixed."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:written",
            "2:no such run",
            "4:refused: the run was not completed, or the script to verify is another",
            "5:can't be written"
        },
        footer = {"", "Example: sharp-tally script --out fix.sql"})
final class ScriptCommand implements Callable<Integer> {
    /** Whose words a script may hold. */
    enum Client {
        OWN,
        NONE;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    MendChoice mend = new MendChoice();

    @Option(
            names = "--out",
            paramLabel = "FILE",
            description = {
                "Where to write it. Default: the run's folder.",
                "As script.sql; the undo script goes beside it."
            })
    Optional<Path> out = Optional.empty();

    @Option(
            names = "--style",
            paramLabel = "STYLE",
            description = {
                "row, batch, merge. Default: row up to 500 changes.",
                "row: a statement for each row, easiest to read; batch: one for many rows, the default for more"
                        + " than 500 changes; merge: one for all of a kind, by a temporary table."
            })
    Optional<ScriptForm.Style> style = Optional.empty();

    @Option(names = "--no-guards", description = "Find rows by key alone, whatever they hold now.")
    boolean noGuards;

    @Option(names = "--old-values", description = "Comments that tell what updated rows held.")
    boolean oldValues;

    @Option(
            names = "--client",
            paramLabel = "CLIENT",
            defaultValue = "own",
            description = {
                "own, none: whose words it may hold. Default: own.",
                "own: the engine's own client, which then stops at the first error and says what was done; none: plain SQL"
                        + " for a driver, which must stop at the first error by itself."
            })
    Client client = Client.OWN;

    @Mixin
    SafeguardChoice caution = new SafeguardChoice();

    @Option(
            names = "--verify",
            paramLabel = "FILE",
            description = {"Only tell whether this script is unchanged.", "Nothing is written."})
    Optional<Path> verify = Optional.empty();

    @Mixin
    FormatChoice format = new FormatChoice();

    ScriptCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (verify.isPresent() && choice.run.isEmpty()) {
            // A script in a run's folder is that run's, whichever is the latest.
            choice.run = verify.map(Path::toAbsolutePath).map(Path::getParent).filter(RunFolder::isOne);
        }
        RunFolder run = choice.openComparison();
        if (verify.isPresent()) {
            String told = new ScriptCheck(run, verify.get()).told();
            if (format.isJson()) {
                return JsonResult.done(
                        screen, "script", 0, Map.of("verified", verify.get().toString(), "told", told));
            }
            screen.print(List.of(told));
            return 0;
        }
        TargetChanges changes = mend.of(run);
        if (changes.isOfFiles()) {
            return writeFile(run, changes);
        }
        Path script = out.orElseGet(() -> run.folder().resolve("script.sql"));
        ScriptJob.Written written = new ScriptJob(
                        changes,
                        script,
                        style,
                        new ScriptForm(
                                ScriptForm.Style.ROW, !noGuards, oldValues, client == Client.OWN, caution.choice()))
                .write();
        if (format.isJson()) {
            return JsonResult.done(screen, "script", 0, written);
        }
        var style = screen.style();
        screen.print(ChangeText.lines(written.counts(), style));
        written.leftOut().ifPresent(left -> screen.print(List.of(left)));
        written.warnings().forEach(warning -> screen.say("sharp-tally: warning: " + warning));
        screen.print(List.of("", "script  " + written.script(), "undo    " + written.undo()));
        if (written.counts().all() > 0) {
            next(run, written);
        }
        return 0;
    }

    private Integer writeFile(RunFolder run, TargetChanges changes) {
        if (style.isPresent()
                || noGuards
                || oldValues
                || client == Client.NONE
                || !caution.words().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a file is written anew, without any SQL that could be written in one way or another",
                    changes.place(),
                    "leave out what says how the script is written");
        }
        Screen shown = format.isJson() ? screen.withoutResult() : screen;
        FileChanges files = new FileChanges(
                shown,
                changes,
                new RewriteJob(changes, Connections.ofUser().resolveOfFile(changes.place())),
                other -> RecheckCommand.look(shown, run, FindingFilter.ALL, Optional.of(other), 1, Duration.ZERO)
                        .left());
        files.outlook();
        FileChanges.Result result = files.write(
                out.orElseGet(
                        () -> run.folder().resolve("fixed").resolve(files.job().name())),
                false);
        if (format.isJson()) {
            return JsonResult.done(screen, "script", result.code(), result);
        }
        screen.print(List.of("", FileChanges.verdict(result)));
        return result.code();
    }

    private void next(RunFolder run, ScriptJob.Written written) {
        var style = screen.style();
        screen.print(List.of(
                "",
                style.paint("next", Meaning.QUIET) + "  read it, then one of",
                "      "
                        + screen.command(
                                "the same changes, done from here" + (noGuards ? " where rows are as compared" : ""),
                                new Words()
                                        .add(List.of("apply", run.folder().toString()))
                                        .add(mend.words())
                                        .add(caution.words())
                                        .add(Connections.words(run))
                                        .list()),
                "      " + style.paint(written.howToRun(), Meaning.COMMAND)));
    }
}
