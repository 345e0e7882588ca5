package sharptally.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.CompareRequest;
import sharptally.api.job.DraftJob;
import sharptally.api.job.JobRequest;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.RunChoice;
import sharptally.cli.option.TableChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.formats.InputFile;
import sharptally.formats.job.JobFileReader;
import sharptally.formats.run.RunFolder;
import sharptally.report.text.DraftSummary;
import sharptally.report.text.Figures;
import sharptally.report.text.Style.Meaning;
import sharptally.report.text.TextTable;
import sharptally.report.text.TextWidth;

@Command(
        name = "draft",
        description = {
            "Proposes what belongs together, and writes a job file.",
            "Which tables and columns, by what keys, with every doubt marked CHECK."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            " 0:drafted",
            " 2:bad usage or job file",
            " 3:a database can't be read",
            " 4:the job file exists"
        },
        footer = {
            "",
            "Example: sharp-tally draft sqlite:old.db h2:new --out tide.yaml",
            "         sharp-tally draft @archive @newhome --pair \"old_*=*\""
        })
final class DraftCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(index = "0", arity = "0..1", paramLabel = "SOURCE", description = "Source: the side that is right.")
    Optional<String> source = Optional.empty();

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "TARGET",
            description = "Target: a database, schema, table or file.")
    Optional<String> target = Optional.empty();

    @Option(names = "--out", paramLabel = "FILE", description = "Where to write the job file. Default: job.yaml.")
    Optional<Path> out = Optional.empty();

    @Option(
            names = "--update",
            paramLabel = "JOB_FILE",
            description = {"Only add what is new to this job file.", "Tables and columns; no letter of it is changed."})
    Optional<Path> update = Optional.empty();

    @Option(
            names = "--from-run",
            paramLabel = "RUN",
            description = {
                "Propose rules by what a run found, or latest.",
                "As CHECK lines in its job file, the one of --update, or a new one: rules by which most values that differ would be the same, with"
                        + " what they would hide. Nothing holds before the comment sign is taken away."
            })
    Optional<Path> fromRun = Optional.empty();

    @Option(
            names = "--pair",
            split = ",",
            paramLabel = "OLD=NEW",
            description = {
                "Tables that belong together, as 'old_*=*'.",
                "* stands for what both names have in common. Repeatable."
            })
    List<String> pairs = List.of();

    @Mixin
    TableChoice tables = new TableChoice();

    @Option(
            names = "--names-only",
            description = {"Read no row: match by names and declarations.", "Keys are not looked into."})
    boolean namesOnly;

    @Option(names = "--expectations", description = "Also write expectations of each table to start from.")
    boolean totals;

    @Option(
            names = "--editor-schema",
            description = {
                "Also write job.schema.json, for editors.",
                "Beside the job file; by it editors complete and check."
            })
    boolean schema;

    @Mixin
    FormatChoice format = new FormatChoice();

    DraftCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        return fromRun.isPresent()
                ? propose(RunChoice.named(
                        fromRun.get(),
                        Path.of(RunChoice.DEFAULT_RUNS),
                        run -> !run.matches().isEmpty()))
                : update.isPresent() ? update(update.get()) : draft();
    }

    private int propose(RunFolder run) {
        if (source.isPresent() || !pairs.isEmpty() || !tables.isEmpty() || namesOnly || totals) {
            throw usage("a run already says what belongs together", "give --from-run with --update or --out alone");
        }
        Optional<Path> known = update.or(() -> run.summary().job().map(Path::of).filter(job -> out.isEmpty()));
        Path file = known.or(() -> out).orElse(Path.of("job.yaml"));
        if (known.isEmpty() && Files.exists(file)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the job file exists",
                    file.toString(),
                    "add the proposals to it with --update " + file + ", or choose another with --out");
        }
        try {
            Path read = known.orElseGet(() -> CompareRequest.jobFileOf(run));
            if (known.isPresent()) {
                JobFileReader.read(read, System.getenv(), Clock.systemUTC());
            }
            DraftJob.Proposed proposed = DraftJob.proposed(run, file, InputFile.text(read));
            List<DraftJob.Line> lines = proposed.lines();
            if (!lines.isEmpty()) {
                DraftJob.write(file, proposed.jobFile());
            }
            if (format.isJson()) {
                return JsonResult.done(screen, "draft", 0, Map.of("job-file", file.toString(), "proposals", lines));
            }
            tell(run, file, lines);
            return 0;
        } catch (IOException e) {
            throw unreadable(file, e, "give --update with where it is now");
        }
    }

    private void tell(RunFolder run, Path file, List<DraftJob.Line> lines) {
        if (lines.isEmpty()) {
            screen.print(List.of("no rule would make most values of a column the same that differ in run "
                    + run.summary().run() + "; nothing was written"));
            return;
        }
        TextTable table = new TextTable(TextTable.Align.LEFT, TextTable.Align.RIGHT, TextTable.Align.LEFT);
        table.heading("column", "would be the same", "by");
        lines.forEach(line -> table.row(List.of(
                TextTable.Cell.of(TextWidth.harmless(line.match() + "." + line.column())),
                TextTable.Cell.of(Figures.count(line.explains()) + " of " + Figures.count(line.of())),
                TextTable.Cell.of(TextWidth.harmless(line.entry())))));
        screen.print(table.lines(screen.style(), screen.columns()));
        screen.print(List.of("", "as comments in " + file));
        screen.print(List.of(
                "",
                screen.style().paint("next", Meaning.QUIET)
                        + "  read what is marked CHECK, take in what is right, then "
                        + screen.command("", List.of("compare", "--job", file.toString()))));
    }

    @SuppressWarnings("try")
    private int draft() {
        if (source.isEmpty() || target.isEmpty()) {
            throw usage("two databases are needed", "give SOURCE and TARGET, or --update with a job file");
        }
        Path file = out.orElse(Path.of("job.yaml"));
        if (Files.exists(file)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the job file exists",
                    file.toString(),
                    "add what is new with --update " + file + ", or choose another with --out");
        }
        Connections places = Connections.ofUser();
        DraftJob job = new DraftJob(
                places.resolve(source.get()),
                places.resolve(target.get()),
                !namesOnly,
                totals,
                said(),
                tables.wanted(),
                tables.notWanted());
        DraftJob.Result result;
        try (Screen.Status status = screen.status("connecting, and looking at tables and rows")) {
            result = job.draft(Version.current());
        }
        finish(file, result);
        return 0;
    }

    private int update(Path file) {
        if (source.isPresent() || out.isPresent()) {
            throw usage("a job file already says which databases, and is itself written", "give --update alone");
        }
        JobRequest wish = JobChoice.wishOf(file);
        DraftJob job = new DraftJob(
                wish.source(), wish.target(), !namesOnly, totals, said(), tables.wanted(), tables.notWanted());
        try {
            DraftJob.Result result =
                    job.update(file, InputFile.text(file), wish.jobFile().orElseThrow(), wish);
            finish(file, result);
            return 0;
        } catch (IOException e) {
            throw unreadable(file, e, "check the file");
        }
    }

    private static ToolException unreadable(Path file, IOException e, String mend) {
        return new ToolException(
                ErrorKind.JOB_FILE, "can't read the job file", file + " (" + e.getMessage() + ")", mend, e);
    }

    private void finish(Path file, DraftJob.Result result) {
        DraftJob.write(file, result.jobFile());
        if (schema) {
            DraftJob.write(file.resolveSibling("job.schema.json"), JobFileReader.schema());
        }
        if (format.isJson()) {
            JsonResult.done(screen, "draft", 0, DraftSummary.Drafted.of(file.toString(), result.draft()));
            return;
        }
        screen.print(DraftSummary.lines(result.draft(), result.updated(), screen.style(), screen.columns()));
        screen.print(List.of("job file " + file));
        List<String> compare = List.of("compare", "--job", file.toString());
        if (toCheck(file)) {
            screen.print(List.of(
                    "",
                    screen.style().paint("next", Meaning.QUIET) + "  read what is marked CHECK, then "
                            + screen.command("", compare)));
        } else {
            screen.next("compare the rows", compare);
        }
    }

    private static boolean toCheck(Path file) {
        try {
            return Files.readString(file).contains("# CHECK");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private List<Map.Entry<Glob, Glob>> said() {
        List<Map.Entry<Glob, Glob>> said = new ArrayList<>();
        for (String pair : pairs) {
            int equals = pair.indexOf('=');
            if (equals <= 0 || equals == pair.length() - 1) {
                throw usage("not a pair of tables: " + pair, "write OLD=NEW, such as stn_*=station_*");
            }
            said.add(Map.entry(
                    new Glob(pair.substring(0, equals).strip()),
                    new Glob(pair.substring(equals + 1).strip())));
        }
        return said;
    }

    private static ToolException usage(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, "draft", mend);
    }
}
