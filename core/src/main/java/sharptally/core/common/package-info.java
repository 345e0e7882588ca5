/** What rows that differ have in common, told from what they hold beside rows that are the same. */
@NullMarked
package sharptally.core.common;

import org.jspecify.annotations.NullMarked;
