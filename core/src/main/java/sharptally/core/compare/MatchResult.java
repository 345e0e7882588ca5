package sharptally.core.compare;

import java.util.Optional;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;

/** How the comparison of one match ended: with an outcome, or with a failure, never both. */
public record MatchResult(TableMatch match, Optional<Outcome> outcome, Optional<ToolException> failure) {
    public MatchResult {
        if (outcome.isPresent() == failure.isPresent()) {
            throw new IllegalStateException("a match ends with an outcome or a failure: " + match.name());
        }
    }

    /** Whether every row was compared in every column that the user wanted compared. */
    public boolean proved() {
        return outcome.isPresent() && match.comparesAll();
    }
}
