package sharptally.cli.job;

import java.nio.file.Path;
import java.util.List;
import sharptally.cli.job.keep.RunBook;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.totals.Checks;
import sharptally.core.totals.Expectation;
import sharptally.engines.Engines;
import sharptally.formats.run.RunFolder;

/** Holds figures of one table against what they should be; the result is kept in a run folder. */
public record ExpectJob(PlaceAccess place, List<Expectation> expectations, Path runs) {
    /**
     * @param tool version of this program, for the record
     * @throws ToolException when the address names no table and the place has more than one
     */
    public RunFolder run(String tool) {
        try (Place opened = Engines.of(place.address()).open(place)) {
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
            RunBook book = RunBook.ofOnePlace(runs, tool, place, opened, JobPlan.empty());
            book.checks(checks);
            return book.close(true);
        }
    }
}
