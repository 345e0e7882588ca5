package sharptally.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import sharptally.api.Database;
import sharptally.api.SharpTallyException;
import sharptally.api.job.DraftJob;
import sharptally.api.job.SurveyJob;
import sharptally.api.probe.Probe;
import sharptally.cli.compare.SideBySide;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Endpoint;
import sharptally.core.shape.TableShape;
import sharptally.report.probe.ProbeText;
import sharptally.report.text.Style;
import sharptally.report.text.SurveyText;

@Command(
        name = "survey",
        description = {
            "Lists the tables of a database, or the columns of one table.",
            "Of two databases, how both declare their tables: that rows are the same does not say that rules are."
        },
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:looked at; with --probe, all of it is exact",
            "1:with --probe, something is not",
            "2:bad usage, or no such table",
            "3:the database can't be reached or read"
        },
        footer = {"", "Example: sharp-tally survey sqlite:old.db#station"})
final class SurveyCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(
            index = "0",
            paramLabel = "DATABASE",
            description = "Address, such as sqlite:old.db; with #table, that table.")
    String place = "";

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "TARGET",
            description = {
                "Another one: how both declare their tables.",
                "Keys, indexes, checks, defaults, triggers, rights, side by side, and what each difference means for the data."
            })
    Optional<String> target = Optional.empty();

    @Option(
            names = "--ddl-out",
            paramLabel = "FILE",
            description = {
                "Write what would make tables and columns that the target lacks.",
                "In its own words, to be read; nothing runs it."
            })
    Optional<Path> ddlOut = Optional.empty();

    @Option(names = "--exact", description = "Count the rows of every table; else estimates (~).")
    boolean exact;

    @Option(
            names = "--probe",
            description = {
                "Try on this server what is promised of its engine: scratch tables of every type are made, compared in every way,"
                        + " changed and dropped. Nothing else is touched."
            })
    boolean probe;

    @Option(
            names = "--scratch-schema",
            paramLabel = "SCHEMA",
            description =
                    "Where --probe makes its tables: a schema (MariaDB: a database) in which the user may make some.")
    Optional<String> scratchSchema = Optional.empty();

    @Option(names = "--out", paramLabel = "FILE", description = "Write what --probe found into a new file as well.")
    Optional<Path> out = Optional.empty();

    @Mixin
    FormatChoice format = new FormatChoice();

    @Spec
    CommandSpec spec;

    SurveyCommand(Screen screen) {
        this.screen = screen;
    }

    @SuppressWarnings("try")
    private int probed(Endpoint endpoint) {
        var builder = sharptally.api.SharpTally.builder()
                .temporaryFolder(Path.of(System.getProperty("java.io.tmpdir")))
                .environment(System.getenv())
                .allowDriverAddresses();
        Connections.fileOfUser(System.getenv()).ifPresent(builder::connections);
        Database database = Database.at(endpoint.label().withoutTable().toString());
        ProbeText.Report report;
        try (Screen.Status status = screen.status("trying types, methods and guards in scratch tables")) {
            report = new Probe(builder.build(), database, endpoint, scratchSchema.orElseThrow()).run();
        } catch (SharpTallyException e) {
            if (e.getCause() instanceof ToolException cause) {
                throw cause;
            }
            throw e;
        }
        List<String> lines = ProbeText.lines(report, Style.PLAIN);
        out.ifPresent(file -> DraftJob.write(file, String.join("\n", lines) + "\n"));
        int code = report.isExact() ? 0 : 1;
        if (format.isJson()) {
            return JsonResult.done(screen, "survey", code, report);
        }
        screen.print(ProbeText.lines(report, screen.style()));
        return code;
    }

    /** What a database is and holds, as JSON. */
    record Told(String address, String product, Map<String, String> facts, List<SurveyText.Told> tables) {}

    @SuppressWarnings("try")
    @Override
    public Integer call() {
        if (!probe && (scratchSchema.isPresent() || out.isPresent())) {
            throw new ParameterException(spec.commandLine(), "--scratch-schema and --out go with --probe");
        }
        if (probe && scratchSchema.isEmpty()) {
            throw new ParameterException(
                    spec.commandLine(),
                    "--probe needs --scratch-schema: where its tables may be made, such as tally_scratch");
        }
        if (out.filter(Files::exists).isPresent()) {
            throw new ParameterException(spec.commandLine(), "--out: there is such a file already: " + out.get());
        }
        if (target.isEmpty() && ddlOut.isPresent() || target.isPresent() && (probe || exact)) {
            throw new ParameterException(
                    spec.commandLine(),
                    "--ddl-out goes with a source and a target, --probe and --exact with one database");
        }
        if (target.isPresent()) {
            return new SideBySide(screen, ddlOut, format.isJson()).run(place, target.get());
        }
        Endpoint endpoint = Connections.ofUser().resolve(place);
        if (probe) {
            return probed(endpoint);
        }
        SurveyJob job = new SurveyJob(endpoint, exact);
        Optional<String> table = endpoint.label().table();
        if (table.isPresent()) {
            TableShape shape = job.columns(table.get());
            if (format.isJson()) {
                return JsonResult.done(screen, "survey", 0, SurveyText.Told.of(shape));
            }
            screen.print(SurveyText.columns(shape, screen.style(), screen.columns()));
            return 0;
        }
        SurveyJob.Survey survey;
        try (Screen.Status status = screen.status("connecting, and looking at the tables")) {
            survey = job.tables();
        }
        if (format.isJson()) {
            return JsonResult.done(
                    screen,
                    "survey",
                    0,
                    new Told(
                            survey.address(),
                            survey.product(),
                            survey.facts(),
                            survey.tables().stream().map(SurveyText.Told::of).toList()));
        }
        screen.print(SurveyText.tables(
                survey.address(), survey.product(), survey.facts(), survey.tables(), screen.style(), screen.columns()));
        return 0;
    }
}
