package sharptally.cli;

import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.SurveyJob;
import sharptally.cli.option.Places;
import sharptally.cli.screen.Screen;
import sharptally.core.place.Endpoint;
import sharptally.report.text.SurveyText;

@Command(
        name = "survey",
        description = "Looks at a place: its tables, or the columns of one table.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {"0:looked at", "2:bad usage, or no such table", "3:the place can't be reached or read"},
        footer = {"", "Example: sharp-tally survey sqlite:old.db#station"})
final class SurveyCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(paramLabel = "PLACE", description = "An address, such as sqlite:old.db, or with #table.")
    String place = "";

    @Option(names = "--exact", description = "Count the rows of every table; else estimates (~).")
    boolean exact;

    SurveyCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        Endpoint endpoint = Places.ofUser().resolve(place);
        SurveyJob job = new SurveyJob(endpoint, exact);
        Optional<String> table = endpoint.label().table();
        if (table.isPresent()) {
            screen.print(SurveyText.columns(job.columns(table.get()), screen.style(), screen.columns()));
            return 0;
        }
        SurveyJob.Survey survey = job.tables();
        screen.print(SurveyText.tables(
                survey.address(), survey.product(), survey.facts(), survey.tables(), screen.style(), screen.columns()));
        return 0;
    }
}
