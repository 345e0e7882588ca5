/** Constraints that should hold on each side, whichever side declares them, and what of a table does not meet them. */
@NullMarked
package sharptally.core.integrity;

import org.jspecify.annotations.NullMarked;
