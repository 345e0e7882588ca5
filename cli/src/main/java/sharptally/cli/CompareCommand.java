package sharptally.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.cli.job.CompareJob;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.MatchWish;
import sharptally.formats.run.Json;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunSummary;
import sharptally.formats.sheet.Sheet;
import sharptally.formats.sheet.SheetFile;
import sharptally.report.text.RunText;
import sharptally.report.text.Style.Meaning;

@Command(
        name = "compare",
        description = "Compares all rows of two places and keeps what differs in a run folder.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:same",
            "1:differences found",
            "2:bad usage or sheet",
            "3:a place can't be read",
            "5:stopped or a column not compared: nothing proved"
        },
        footer = {"", "Example: sharp-tally compare sqlite:old.db h2:new"})
final class CompareCommand implements Callable<Integer> {
    /** How the result is printed. */
    enum Form {
        TEXT,
        JSON;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    private final Screen screen;

    @Parameters(index = "0", arity = "0..1", paramLabel = "SOURCE", description = "The side held to be right.")
    Optional<String> source = Optional.empty();

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "TARGET",
            description = "The side held against it. With #table on an address, that table alone; else all tables of"
                    + " equal name.")
    Optional<String> target = Optional.empty();

    @Option(names = "--sheet", paramLabel = "FILE", description = "Take places and matches from a sheet.")
    Optional<Path> sheet = Optional.empty();

    @Option(
            names = "--key",
            split = ",",
            paramLabel = "COLUMN",
            description = "The columns that tell rows apart. Default: primary key, else a unique one, else whole rows.")
    List<String> key = List.of();

    @Option(names = "--leave-out", split = ",", paramLabel = "COLUMN", description = "Columns not to compare.")
    List<String> leaveOut = List.of();

    @Option(
            names = "--runs",
            paramLabel = "FOLDER",
            defaultValue = RunChoice.DEFAULT_RUNS,
            description = "Where runs are kept. Default: ${DEFAULT-VALUE}.")
    Path runs = Path.of(RunChoice.DEFAULT_RUNS);

    @Option(
            names = "--snapshot",
            negatable = true,
            defaultValue = "true",
            fallbackValue = "true",
            description = "Read all tables of a side in one state of its database, where the engine can (the default)."
                    + " With --no-snapshot each table in its own, and no long transaction.")
    boolean snapshot = true;

    @Option(
            names = "--strict-shape",
            description = "Exit with 1 also where only the shapes differ: tables or columns on one side only, types,"
                    + " lengths, nullability, order.")
    boolean strictShape;

    @Option(names = "--format", defaultValue = "text", description = "${COMPLETION-CANDIDATES}. Default: text.")
    Form form = Form.TEXT;

    CompareCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        RunFolder run =
                job().withSnapshot(snapshot).run(Version.current(), ProgressBars.watcher(screen), Interrupt::asked);
        print(screen, run, form, runs);
        int code = run.summary().exitCode();
        if (code == 0 && strictShape && run.summary().shapesDiffer()) {
            screen.say("sharp-tally: the rows are the same, the shapes are not (--strict-shape)");
            return 1;
        }
        return code;
    }

    private CompareJob job() {
        if (sheet.isPresent()) {
            if (source.isPresent() || !key.isEmpty() || !leaveOut.isEmpty()) {
                throw usage("a sheet already says places, keys and columns", "give --sheet alone");
            }
            return ofSheet(sheet.get(), runs);
        }
        if (source.isEmpty() || target.isEmpty()) {
            throw usage("two places are needed", "give SOURCE and TARGET, or --sheet");
        }
        Places places = Places.ofUser();
        return new CompareJob(
                places.resolve(source.get()), places.resolve(target.get()), List.of(), key, leaveOut, runs);
    }

    private static ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, "compare", mend);
    }

    static CompareJob ofSheet(Path file, Path runs) {
        Sheet read = SheetFile.read(file);
        List<MatchWish> wishes = SheetFile.wishes(read);
        Places places = Places.ofUser();
        return new CompareJob(
                places.resolve(read.source()), places.resolve(read.target()), wishes, List.of(), List.of(), runs);
    }

    /** Prints the result of a run, and what to do next. */
    static void print(Screen screen, RunFolder run, Form form, Path runs) {
        RunSummary summary = run.summary();
        if (form == Form.JSON) {
            try {
                Json.MAPPER.writeValue(new NonClosing(screen.out()), summary);
                screen.out().println();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
            return;
        }
        screen.print(RunText.lines(summary, screen.style()));
        screen.print(List.of("run " + run.folder()));
        long differences =
                summary.matches().stream().mapToLong(m -> m.differences()).sum();
        if (differences > 0) {
            String where = runs.equals(Path.of(RunChoice.DEFAULT_RUNS)) ? "" : " --runs " + runs;
            screen.print(List.of(
                    "",
                    screen.style().paint("next", Meaning.QUIET) + "  "
                            + screen.style().paint("sharp-tally show" + where, Meaning.COMMAND)
                            + screen.style().paint("    see the rows that differ", Meaning.QUIET)));
        }
    }
}
