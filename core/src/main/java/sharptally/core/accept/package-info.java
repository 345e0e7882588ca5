/** Differences that are known and accepted for now, and how many a table may have. */
@NullMarked
package sharptally.core.accept;

import org.jspecify.annotations.NullMarked;
