package sharptally.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.DraftJob;
import sharptally.api.job.JobRequest;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.option.JobChoice;
import sharptally.cli.option.TableChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.formats.InputFile;
import sharptally.formats.job.JobFileReader;
import sharptally.report.text.DraftSummary;
import sharptally.report.text.Style.Meaning;

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
        return update.isPresent() ? update(update.get()) : draft();
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
            throw new ToolException(
                    ErrorKind.JOB_FILE,
                    "can't read the job file",
                    file + " (" + e.getMessage() + ")",
                    "check the file",
                    e);
        }
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
