/** Differing rows, as events. */
@NullMarked
package sharptally.core.finding;

import org.jspecify.annotations.NullMarked;
