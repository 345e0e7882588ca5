package sharptally.api.job;

import java.nio.file.Path;
import java.util.List;
import sharptally.api.job.keep.RunBook;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.totals.Checks;
import sharptally.core.totals.Expectation;
import sharptally.formats.run.RunFolder;

/** Holds figures of one table against what they should be; the result is kept in a run folder. */
public record ExpectJob(Endpoint place, List<Expectation> expectations, Path runs) {
    /**
     * @param context what it takes from around it
     * @throws ToolException when the address names no table and the place has more than one
     */
    public RunFolder run(Context context) {
        try (Place opened = place.open()) {
            String table = place.label().table().orElseGet(() -> {
                if (opened.tables().size() != 1) {
                    throw new ToolException(
                            ErrorKind.USAGE,
                            "an expectation is of one table",
                            place.label().toString(),
                            "name it: " + place.label().withTable("TABLE"));
                }
                return opened.tables().get(0).toString();
            });
            var checks = Checks.run(opened, place.label().toString(), opened.describe(table), expectations);
            RunBook book = RunBook.ofOnePlace(runs, context, place, opened, JobPlan.empty());
            book.checks(checks);
            return book.close(true);
        }
    }
}
