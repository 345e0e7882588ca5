package sharptally.cli;

import java.time.Duration;
import java.util.List;
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
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.QuietChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.option.TableChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.ProgressBars;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.place.Endpoint;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.report.text.Figures;
import sharptally.report.text.RecheckText;
import sharptally.report.text.Style;

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
            "3:a database can't be read",
            "4:refused: the run was not completed, or a table looks different now",
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

    @Mixin
    FormatChoice format = new FormatChoice();

    @Mixin
    QuietChoice quiet = new QuietChoice();

    RecheckCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        if (times < 1) {
            throw new ToolException(ErrorKind.USAGE, "--times should be 1 or more, not " + times, "recheck", "");
        }
        quiet.check("recheck", format.isJson(), "--format json");
        Duration pause = Durations.parse("--wait", wait);
        RunFolder run = choice.openComparison();
        if (run.summary().state() != RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run was not completed, so its findings may not be all",
                    run.folder().toString(),
                    "compare again, or resume it with compare --resume " + run.folder());
        }
        FindingFilter wanted = FindingFilter.of(tables.of(run));
        wanted.check(run.matches());
        boolean text = !format.isJson() && !quiet.quiet;
        RecheckJob.Rechecked found =
                look(text ? screen : quiet.of(screen).withoutResult(), run, wanted, Optional.empty(), times, pause);
        int code = found.allowed() ? 0 : 1;
        if (format.isJson()) {
            return JsonResult.done(screen, "recheck", code, Looked.of(found));
        }
        if (quiet.quiet) {
            screen.print(List.of(Looked.verdict(found, screen.style()) + "; run " + run.folder()));
            return code;
        }
        if (found.open() > 0) {
            screen.next("the rows as they differ now", choice.command("show", run));
        }
        return code;
    }

    /** What was found, as JSON. */
    record Looked(String folder, long left, long accepted, List<RecheckJob.OfMatch> matches) {
        static Looked of(RecheckJob.Rechecked found) {
            return new Looked(found.run().folder().toString(), found.left(), found.accepted(), found.matches());
        }

        static String verdict(RecheckJob.Rechecked found, Style style) {
            return found.left() == 0
                    ? style.paint("no longer different", Style.Meaning.GOOD) + ": all rows that were looked at"
                    : style.paint("different", Style.Meaning.CHANGED) + ": "
                            + Figures.count(found.left(), "row") + " still "
                            + (found.left() == 1 ? "differs" : "differ")
                            + (found.accepted() > 0
                                    ? ", of which " + Figures.count(found.accepted(), "row") + " accepted"
                                    : "")
                            + (found.allowed() && found.open() > 0 ? ", no more than allowed" : "");
        }
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
