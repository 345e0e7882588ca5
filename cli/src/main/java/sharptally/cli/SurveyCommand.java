package sharptally.cli;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.SurveyJob;
import sharptally.cli.option.Connections;
import sharptally.cli.option.FormatChoice;
import sharptally.cli.screen.JsonResult;
import sharptally.cli.screen.Screen;
import sharptally.core.place.Endpoint;
import sharptally.core.shape.TableShape;
import sharptally.report.text.SurveyText;

@Command(
        name = "survey",
        description = "Lists the tables of a database, or the columns of one table.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:looked at", "2:bad usage, or no such table", "3:the database can't be reached or read"},
        footer = {"", "Example: sharp-tally survey sqlite:old.db#station"})
final class SurveyCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(paramLabel = "DATABASE", description = "Address, such as sqlite:old.db; with #table, that table.")
    String place = "";

    @Option(names = "--exact", description = "Count the rows of every table; else estimates (~).")
    boolean exact;

    @Mixin
    FormatChoice format = new FormatChoice();

    SurveyCommand(Screen screen) {
        this.screen = screen;
    }

    /** What a database is and holds, as JSON. */
    record Told(String address, String product, Map<String, String> facts, List<SurveyText.Told> tables) {}

    @SuppressWarnings("try")
    @Override
    public Integer call() {
        Endpoint endpoint = Connections.ofUser().resolve(place);
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
