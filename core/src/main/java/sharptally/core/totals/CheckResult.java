package sharptally.core.totals;

import java.util.Optional;

/**
 * An expectation and what was found.
 *
 * @param place which side, or the place's address where there is but one
 * @param found the figure; empty for that of no row
 */
public record CheckResult(String place, String table, String expected, Optional<String> found, boolean held) {}
