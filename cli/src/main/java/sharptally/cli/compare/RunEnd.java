package sharptally.cli.compare;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import sharptally.cli.cluster.Submission;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.Redaction;
import sharptally.report.text.Figures;
import sharptally.report.text.RunText;

/** The result of a run on the screen. */
public final class RunEnd {
    private RunEnd() {}

    /** Not where all that is unfinished asks for what can't be done, which would be refused again. */
    private static boolean canBeResumed(RunSummary summary) {
        return summary.matches().isEmpty()
                || summary.matches().stream()
                        .anyMatch(m -> m.state() == RunState.INCOMPLETE && m.exitCode() != ErrorKind.USAGE.exitCode());
    }

    /** Prints the result of a run, and what to do next. */
    public static void print(Screen screen, RunFolder run, Redaction redaction, boolean all, Path runs) {
        RunSummary summary = HiddenRun.of(run.summary(), redaction);
        screen.print(RunText.lines(summary, screen.style(), screen.columns(), all));
        screen.print(List.of("run " + run.folder()));
        long differences =
                summary.matches().stream().mapToLong(m -> m.differences()).sum();
        if (summary.state() == RunState.INCOMPLETE) {
            long finished = summary.matches().stream()
                    .filter(m -> m.state() == RunState.COMPLETE)
                    .count();
            screen.say((Interrupt.asked() ? "sharp-tally: stopped as asked; " : "sharp-tally: not completed; ")
                    + Figures.count(finished) + " of "
                    + Figures.count(summary.matches().size(), "table")
                    + " finished; what was found by then is kept");
            if (canBeResumed(summary)) {
                List<String> words = new ArrayList<>(
                        List.of("compare", "--resume", run.folder().toString()));
                words.addAll(Submission.words());
                screen.next("resume it", words);
            }
            return;
        }
        if (differences > 0) {
            List<String> words = new ArrayList<>(List.of("show"));
            words.addAll(RunChoice.of(runs));
            boolean others = differences > summary.acceptedRows();
            if (!others) {
                words.add("--only-accepted");
            }
            screen.next(others ? "see the rows that differ" : "see the rows that are accepted", words);
        }
    }
}
