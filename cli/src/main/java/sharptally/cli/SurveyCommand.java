package sharptally.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.cli.option.Places;
import sharptally.cli.screen.Screen;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Estimate;
import sharptally.core.place.Place;
import sharptally.core.place.RowCount;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
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
        Endpoint access = Places.ofUser().resolve(place);
        Address address = access.label();
        try (Place opened = access.open()) {
            if (address.table().isPresent()) {
                screen.print(
                        SurveyText.columns(opened.describe(address.table().get()), screen.style(), screen.columns()));
                return 0;
            }
            List<SurveyText.Surveyed> tables = new ArrayList<>();
            for (TableName table : opened.tables()) {
                tables.add(survey(opened, table));
            }
            screen.print(SurveyText.tables(
                    opened.address().toString(),
                    opened.product(),
                    opened.facts(),
                    tables,
                    screen.style(),
                    screen.columns()));
            return 0;
        }
    }

    private SurveyText.Surveyed survey(Place opened, TableName name) {
        TableShape table = opened.describe(name.toString());
        Optional<String> problem = opened.readProblem(name);
        Estimate size = opened.estimate(name);
        if (exact && problem.isEmpty()) {
            size = new Estimate(OptionalLong.of(RowCount.of(opened, table)), size.bytes());
        }
        return new SurveyText.Surveyed(table, size, exact && problem.isEmpty(), problem);
    }
}
