/** Sorting on this side, for rows that a database can't deliver in our order. */
@NullMarked
package sharptally.core.sort;

import org.jspecify.annotations.NullMarked;
