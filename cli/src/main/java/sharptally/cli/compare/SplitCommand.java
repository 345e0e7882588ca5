package sharptally.cli.compare;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.Context;
import sharptally.api.job.many.SplitJob;
import sharptally.cli.Version;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.Figures;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextTable.Align;
import sharptally.report.text.TextTable.Cell;
import sharptally.report.text.TextWidth;

/** {@code split}: one run for each part of a union. */
@Command(
        name = "split",
        description = {
            "Makes a run for each part of a union that a run compared.",
            "So that show, script, apply and recheck work on that part alone. A row that a part has belongs there; one that"
                    + " none has belongs to the part whose name its column by= holds, or to --missing-to."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:every row that differs belongs to a part",
            "2:bad usage",
            "3:a database can't be read",
            "4:the run proves nothing, or the tables are others now",
            "5:some rows belong to no part for sure; the others were split"
        },
        footer = {"", "Example: sharp-tally split --missing-to north"})
public final class SplitCommand implements Callable<Integer> {
    private static final int UNTOLD = 5;

    private final Screen screen;

    @Mixin
    RunChoice choice = new RunChoice();

    @Option(
            names = "--missing-to",
            paramLabel = "PART",
            description = {
                "The part that gets rows which none has.",
                "Where no column tells; without it, they are given to none."
            })
    Optional<String> missingTo = Optional.empty();

    @Mixin
    FormatChoice format = new FormatChoice();

    public SplitCommand(Screen screen) {
        this.screen = screen;
    }

    /** What is printed as JSON. */
    private record Result(String run, List<Part> parts, SplitJob.Untold untold) {
        private Result {
            parts = List.copyOf(parts);
        }
    }

    /**
     * One part.
     *
     * @param folder of its run; empty where nothing differs there
     */
    private record Part(String part, String address, Optional<String> folder, long changed, long missing, long extra) {}

    @Override
    @SuppressWarnings("try")
    public Integer call() {
        RunFolder run = choice.openComparison();
        Path runs = choice.run
                .map(named -> Optional.ofNullable(named.getParent()).orElse(Path.of("")))
                .orElse(choice.runs);
        SplitJob.Split split;
        try (Screen.Status status = screen.status("asking each part for its rows")) {
            split = new SplitJob(
                            run,
                            JobChoice.wishOf(CompareRequest.jobFileOf(run)),
                            missingTo,
                            runs,
                            Context.ofProcess(Version.current()))
                    .split();
        }
        int code = split.untold().all() > 0 ? UNTOLD : 0;
        if (format.isJson()) {
            List<Part> parts = split.parts().stream()
                    .map(p -> new Part(
                            p.name(),
                            p.address(),
                            p.run().map(made -> made.folder().toString()),
                            p.changed(),
                            p.missing(),
                            p.extra()))
                    .toList();
            return JsonResult.done(
                    screen, "split", code, new Result(run.folder().toString(), parts, split.untold()));
        }
        screen.print(List.of(RunChoice.told(run), ""));
        screen.print(table(split.parts()).lines(screen.style(), screen.columns()));
        List<String> untold = untold(split.untold());
        if (!untold.isEmpty()) {
            screen.print(List.of("", screen.style().paint("given to no part", Meaning.CHANGED)));
            untold.forEach(line -> screen.print(TextWidth.note(line, screen.columns())));
        }
        split.parts().stream()
                .flatMap(part -> part.run().stream())
                .findFirst()
                .ifPresent(first -> screen.next(
                        "write the script for the first of them",
                        List.of("script", first.folder().toString())));
        return code;
    }

    private static TextTable table(List<SplitJob.Part> parts) {
        TextTable table = new TextTable(Align.LEFT, Align.LEFT, Align.RIGHT, Align.RIGHT, Align.RIGHT, Align.LEFT);
        table.heading("part", "database", "changed", "missing", "extra", "run");
        for (SplitJob.Part part : parts) {
            table.row(List.of(
                    Cell.of(TextWidth.harmless(part.name())),
                    Cell.of(TextWidth.harmless(part.address())),
                    Cell.of(Figures.count(part.changed())),
                    Cell.of(Figures.count(part.missing())),
                    Cell.of(Figures.count(part.extra())),
                    part.run()
                            .map(run -> Cell.of(run.folder().toString()))
                            .orElseGet(() -> new Cell("none: nothing differs there", Meaning.QUIET))));
        }
        return table;
    }

    private static List<String> untold(SplitJob.Untold untold) {
        List<String> lines = new ArrayList<>();
        if (untold.missing() > 0) {
            lines.add(Figures.count(untold.missing(), "row")
                    + " that no part has: nothing says where they belong; name a part by --missing-to, or a column that"
                    + " tells by union:by=…");
        }
        if (untold.repeated() > 0) {
            lines.add(Figures.count(untold.repeated(), "row")
                    + " of keys that stand more than once, maybe in several parts: look at them with show");
        }
        if (untold.misplaced() > 0) {
            lines.add(Figures.count(untold.misplaced(), "row") + " in another part than they say they belong to");
        }
        if (untold.moved() > 0) {
            lines.add(Figures.count(untold.moved(), "row")
                    + " that differ no more, or in another way than when they were compared: compare again");
        }
        return lines;
    }
}
