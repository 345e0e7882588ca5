/** Comparing a match range by range with several workers, and looking again at what was found. Start with {@code RangedComparison}. */
@NullMarked
package sharptally.core.compare.run;

import org.jspecify.annotations.NullMarked;
