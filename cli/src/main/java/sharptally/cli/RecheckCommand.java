package sharptally.cli;

import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.Context;
import sharptally.api.job.JobRequest;
import sharptally.api.job.change.RecheckJob;
import sharptally.cli.option.Durations;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.option.TableChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.ProgressBars;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.place.Endpoint;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.report.text.RecheckText;

@Command(
        name = "recheck",
        description = {
            "Looks again at the rows that differed, and only at those.",
            "Each is no longer different, still different, or different in another way."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:none of them differs any more",
            "1:some still differ",
            "2:no such run or table",
            "3:a place can't be read",
            "4:refused: the run did not go to its end, or a table looks different now",
            "5:stopped before the end"
        },
        footer = {"", "Example: sharp-tally recheck --wait 30s --times 3"})
final class RecheckCommand implements Callable<Integer> {
    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Mixin
    TableChoice tables = new TableChoice();

    @Option(
            names = "--times",
            paramLabel = "N",
            description = "Look up to N times, until no row is different. Default: 1.")
    int times = 1;

    @Option(
            names = "--wait",
            paramLabel = "TIME",
            description = {
                "Time between two looks, as 30s. Default: 30s.",
                "Such as 30s or 5m: time for a replica to catch up."
            })
    String wait = "30s";

    RecheckCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (times < 1) {
            throw new ToolException(ErrorKind.USAGE, "--times should be 1 or more, not " + times, "recheck", "");
        }
        Duration pause = Durations.parse("--wait", wait);
        RunFolder run = choice.openComparison();
        if (run.summary().state() != RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run did not go to its end, so its findings may not be all",
                    run.folder().toString(),
                    "compare again, or go on with compare --resume " + run.folder());
        }
        FindingFilter wanted = FindingFilter.of(tables.globs());
        wanted.check(run.matches());
        RecheckJob.Rechecked found = look(screen, run, wanted, Optional.empty(), times, pause);
        if (found.left() > 0) {
            screen.next("the rows as they differ now", choice.command("show", run));
        }
        return found.left() > 0 ? 1 : 0;
    }

    /**
     * Looks again at what a run found, and prints what became of it.
     *
     * @param other another place that is compared with the source, instead of the run's target
     */
    static RecheckJob.Rechecked look(
            Screen screen, RunFolder run, FindingFilter wanted, Optional<Endpoint> other, int times, Duration pause) {
        JobRequest places = JobChoice.wishOf(CompareRequest.jobFileOf(run));
        RecheckJob job = new RecheckJob(
                run,
                wanted,
                places.source(),
                other.orElse(places.target()),
                other.isEmpty(),
                Context.ofProcess(Version.current()));
        RecheckJob.Rechecked found = job.run(times, pause, ProgressBars.watcher(screen, 1), Interrupt::asked);
        screen.print(RecheckText.lines(
                found.matches().stream()
                        .map(m -> new RecheckText.Line(
                                m.match(), m.noLongerDifferent(), m.still(), m.differentInAnotherWay()))
                        .toList(),
                screen.style()));
        return found;
    }
}
