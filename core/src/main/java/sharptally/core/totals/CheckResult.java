package sharptally.core.totals;

import java.util.Optional;

/**
 * An expectation and what was found.
 *
 * @param side which one, or the database's address where there is but one
 * @param found the figure; empty for that of no row
 */
public record CheckResult(String side, String table, String expected, Optional<String> found, boolean held) {}
