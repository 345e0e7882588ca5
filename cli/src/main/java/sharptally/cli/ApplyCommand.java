package sharptally.cli;

import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.cli.job.ApplyJob;
import sharptally.cli.job.CompareJob;
import sharptally.cli.job.CompareWish;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.script.ChangeCounts;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Figures;

@Command(
        name = "apply",
        description = "Makes the target like the source in one transaction, then compares again.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:done, and nothing differs any more",
            "1:done, and something still differs",
            "2:no such run",
            "3:the target can't be reached",
            "4:refused or not confirmed: nothing was changed",
            "5:not compared again to the end"
        },
        footer = {"", "Example: sharp-tally apply --yes"})
final class ApplyCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    ApplyCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run = choice.openComparison();
        ApplyJob job = new ApplyJob(run, Places.ofUser().resolve(run.summary().target()));
        ChangeCounts counts = job.counts();
        screen.print(List.of("target  " + run.summary().target(), ""));
        screen.print(ChangeText.lines(counts, screen.style()));
        job.warnings().forEach(warning -> screen.say("sharp-tally: warning: " + warning));
        if (counts.all() == 0) {
            return run.summary().exitCode();
        }
        if (!yes) {
            confirm(job);
        }
        long rows = job.apply();
        screen.print(List.of("", Figures.count(rows, "change") + " made and committed; comparing again", ""));
        CompareWish same = CompareWish.again(run);
        RunFolder again = new CompareJob(
                        JobChoice.wishOf(CompareWish.sheetOf(run)).narrowedBy(same.narrowing()), same, choice.runs, 1)
                .run(Version.current(), Optional.empty(), ProgressBars.watcher(screen, 1), Interrupt::asked);
        CompareCommand.print(screen, again, CompareCommand.Form.TEXT, choice.runs);
        return again.summary().exitCode();
    }

    private void confirm(ApplyJob job) {
        screen.err().print("type the target's name, " + job.targetName() + ", to go on: ");
        screen.err().flush();
        Optional<String> answer = Input.line();
        if (answer.isEmpty() || !answer.get().strip().equals(job.targetName())) {
            screen.say("");
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "not confirmed, so nothing was changed",
                    job.targetName(),
                    "type the name, or give --yes");
        }
    }
}
