/** Counts and aggregates that databases work out themselves. Start with {@code TotalsComparison}. */
@NullMarked
package sharptally.core.totals;

import org.jspecify.annotations.NullMarked;
