package sharptally.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.shape.TableName;
import sharptally.engines.Engines;
import sharptally.report.text.SurveyText;

@Command(
        name = "survey",
        description = "Looks at a place: its tables, or the columns of one table.",
        mixinStandardHelpOptions = true,
        footer = {"", "Example: sharp-tally survey sqlite:old.db#station"})
final class SurveyCommand implements Callable<Integer> {
    private final Screen screen;

    @Parameters(paramLabel = "PLACE", description = "An address, such as sqlite:old.db or h2:new#station.")
    String place = "";

    SurveyCommand(Screen screen) {
        this.screen = screen;
    }

    @Override
    public Integer call() {
        PlaceAccess access = Places.ofUser().resolve(place);
        Address address = access.label();
        try (Place opened = Engines.of(access.address()).open(access)) {
            if (address.table().isPresent()) {
                screen.print(SurveyText.columns(opened.describe(address.table().get()), screen.style()));
                return 0;
            }
            List<SurveyText.Counted> tables = new ArrayList<>();
            for (TableName table : opened.tables()) {
                tables.add(new SurveyText.Counted(opened.describe(table.toString()), opened.countRows(table)));
            }
            screen.print(SurveyText.tables(opened.address().toString(), opened.product(), tables, screen.style()));
            return 0;
        }
    }
}
