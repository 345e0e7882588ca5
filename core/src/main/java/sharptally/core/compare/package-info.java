/** The comparison of two ordered streams of rows. Start with {@code TableComparison}. */
@NullMarked
package sharptally.core.compare;

import org.jspecify.annotations.NullMarked;
