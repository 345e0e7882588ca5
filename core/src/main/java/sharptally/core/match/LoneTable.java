package sharptally.core.match;

import java.util.Optional;
import sharptally.core.place.Side;
import sharptally.core.shape.TableName;

/**
 * A table that one side has and the other has not, as far as is seen from here.
 *
 * @param side where it stands
 * @param untold why it may be on the other side all the same; empty when it surely is not
 */
public record LoneTable(Side side, TableName name, Optional<String> untold) {}
