package sharptally.formats.run;

import java.util.Optional;
import sharptally.core.place.Side;

/**
 * A table of one side alone, in {@code run.json}.
 *
 * @param side where it stands
 * @param rows how many it has; -1 where it can't be told
 * @param about whether the rows are an estimate of the database's
 * @param untold why it may be on the other side all the same, so that nothing is proved of it; empty when it surely is not
 */
public record LoneSummary(String table, Side side, long rows, boolean about, Optional<String> untold) {
    /** What it is to the target: a missing table, an extra one, or one of which that can't be told. */
    public String word() {
        return untold.isPresent() ? "can't be told" : side == Side.SOURCE ? "missing table" : "extra table";
    }
}
