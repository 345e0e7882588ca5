package sharptally.api.job;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Estimate;
import sharptally.core.place.Place;
import sharptally.core.place.RowCount;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.report.text.SurveyText;

/**
 * Looks at what a place holds.
 *
 * @param exact whether rows are counted; else the database's estimates
 */
public record SurveyJob(Endpoint endpoint, boolean exact) {
    /** What a place is, and its tables. */
    public record Survey(String address, String product, Map<String, String> facts, List<SurveyText.Surveyed> tables) {}

    /**
     * @throws sharptally.core.fault.ToolException when the place can't be reached
     */
    public Survey tables() {
        try (Place place = endpoint.open()) {
            List<SurveyText.Surveyed> tables = new ArrayList<>();
            for (TableName table : place.tables()) {
                tables.add(survey(place, table));
            }
            return new Survey(place.address().toString(), place.product(), place.facts(), tables);
        }
    }

    /**
     * @throws sharptally.core.fault.ToolException when the place can't be reached, or has no such table
     */
    public TableShape columns(String table) {
        try (Place place = endpoint.open()) {
            return place.describe(table);
        }
    }

    private SurveyText.Surveyed survey(Place place, TableName name) {
        TableShape table = place.describe(name.toString());
        Optional<String> problem = place.readProblem(name);
        Estimate size = place.estimate(name);
        boolean counted = exact && problem.isEmpty();
        if (counted) {
            size = new Estimate(OptionalLong.of(RowCount.of(place, table)), size.bytes());
        }
        return new SurveyText.Surveyed(table, size, counted, problem);
    }
}
