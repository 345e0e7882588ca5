package sharptally.cli.compare;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;
import sharptally.api.job.CompareJob;
import sharptally.api.job.CompareJob.Watcher;
import sharptally.api.job.Context;
import sharptally.api.job.many.TargetsJob;
import sharptally.cli.screen.Interrupt;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.report.findings.HiddenRun;
import sharptally.report.findings.Redaction;
import sharptally.report.matrix.TargetsText;
import sharptally.report.text.Figures;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextWidth;
import sharptally.report.text.VerdictText;

/**
 * One source held against several targets, on the screen.
 *
 * @param version of the program
 * @param every whether tables that are the same everywhere are listed one by one
 */
public record ManyTargets(Screen screen, String version, Redaction redaction, boolean every) {
    /** How the results are printed. */
    public enum Form {
        TEXT,
        QUIET,
        JSON
    }

    /** What became of all targets. */
    private record Told(String source, SourceRead sourceRead, List<Target> targets) {
        private Told {
            targets = List.copyOf(targets);
        }
    }

    /**
     * How often rows of the source were read.
     *
     * @param together for several targets at once
     * @param alone for one of them
     */
    private record SourceRead(long together, long alone) {}

    /**
     * What became of one target.
     *
     * @param folder of its run
     * @param run as in its {@code run.json}
     * @param failure why there is no run
     */
    private record Target(
            String target, int exitCode, Optional<String> folder, Optional<RunSummary> run, Optional<String> failure) {}

    /**
     * Compares and prints.
     *
     * @param ended is told of each run, and of each failure's place in the jobs before there was one; gives the exit code
     */
    public int run(
            List<CompareJob> jobs, Watcher watcher, Form form, BiFunction<Integer, TargetsJob.Result, Integer> ended) {
        TargetsJob.Results results;
        try (Screen.Status status = (form == Form.QUIET ? screen.withoutTerminal() : screen)
                .status("connecting, and looking at the tables")) {
            results = new TargetsJob(jobs).run(Context.ofProcess(version), closing(status, watcher), Interrupt::asked);
        }
        List<Target> targets = new ArrayList<>();
        for (int i = 0; i < jobs.size(); i++) {
            TargetsJob.Result result = results.results().get(i);
            int code = ended.apply(i, result);
            targets.add(new Target(
                    jobs.get(i).wish().target().label().toString(),
                    code,
                    result.run().map(run -> run.folder().toString()),
                    result.run().map(RunFolder::summary).map(run -> HiddenRun.of(run, redaction)),
                    result.failure().map(ToolException::getMessage)));
        }
        int gravest = targets.stream()
                .map(Target::exitCode)
                .max(Comparator.comparing(RunSummary.GRAVITY::indexOf))
                .orElseThrow();
        String source = jobs.get(0).wish().source().label().withoutTable().toString();
        SourceRead read =
                new SourceRead(results.reading().together(), results.reading().alone());
        switch (form) {
            case JSON -> json(gravest, new Told(source, read, targets));
            case QUIET -> screen.print(targets.stream().map(ManyTargets::line).toList());
            default -> text(source, read, targets);
        }
        return gravest;
    }

    private static Watcher closing(Screen.Status status, Watcher watcher) {
        return (match, rows) -> {
            status.close();
            return watcher.begin(match, rows);
        };
    }

    private void json(int code, Told told) {
        boolean accepted = code == 0
                && told.targets.stream()
                        .anyMatch(
                                t -> t.run.filter(run -> run.differences() > 0).isPresent());
        if (accepted) {
            JsonResult.accepted(screen, "compare", told);
        } else {
            JsonResult.compared(screen, "compare", code, told);
        }
    }

    /** The verdict on one target. */
    private static String line(Target target) {
        String what = target.run
                .map(VerdictText::lines)
                .map(lines -> lines.get(lines.size() - 1) + "; run " + target.folder.orElseThrow())
                .orElseGet(() -> "not compared: " + target.failure.orElseThrow());
        return TextWidth.harmless(target.target) + "  " + what;
    }

    private void text(String source, SourceRead read, List<Target> targets) {
        screen.print(List.of(
                screen.style().paint("source", Meaning.HEADING) + "  " + TextWidth.harmless(source) + ", "
                        + told(read, targets.size()),
                ""));
        screen.print(TargetsText.lines(
                targets.stream()
                        .map(t -> new TargetsText.Column(t.target, t.run))
                        .toList(),
                screen.style(),
                screen.columns(),
                every));
        for (int i = 0; i < targets.size(); i++) {
            screen.print(TextWidth.note((i + 1) + " " + line(targets.get(i)), screen.columns()));
        }
        targets.stream()
                .filter(t ->
                        t.run.filter(r -> r.differences() > r.acceptedRows()).isPresent())
                .findFirst()
                .ifPresent(first -> screen.next(
                        "see the rows that differ in the first of them", List.of("show", first.folder.orElseThrow())));
    }

    /** Checksums, and other figures, are asked for once in any case. */
    private static String told(SourceRead read, int targets) {
        return read.alone == 0
                ? "read once for all " + targets + " targets"
                : "read once for all " + targets + " targets, but for " + Figures.count(read.alone, "reading")
                        + " of rows that one of them alone needed";
    }
}
