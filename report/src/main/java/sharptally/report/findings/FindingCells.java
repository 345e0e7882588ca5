package sharptally.report.findings;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;

/**
 * What one column of a finding holds on either side.
 *
 * @param source empty where the source has no such row
 */
public record FindingCells(String column, Optional<Value> source, Optional<Value> target) {
    /** Those of a finding that are wanted; of a repeated key, how many rows each side has. */
    public static List<FindingCells> of(TableMatch match, Finding finding, FindingFilter filter) {
        List<FindingCells> cells = new ArrayList<>();
        if (finding instanceof Finding.Repeated repeated) {
            cells.add(new FindingCells(
                    "(rows)",
                    Optional.of(new Value.Int(repeated.inSource())),
                    Optional.of(new Value.Int(repeated.inTarget()))));
        }
        FindingValues.of(match, finding, filter)
                .forEach(v -> cells.add(new FindingCells(v.column(), v.source(), v.target())));
        return cells;
    }
}
