/** Comparing by reading: both sides in key order, merged row by row. Start with {@code StreamComparison}. */
@NullMarked
package sharptally.core.compare.stream;

import org.jspecify.annotations.NullMarked;
