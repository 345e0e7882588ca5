/** Which table, column and key of one side belongs to which of the other. Start with {@code MatchPlanner}. */
@NullMarked
package sharptally.core.match;

import org.jspecify.annotations.NullMarked;
