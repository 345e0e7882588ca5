/** Comparing by a query that joins both tables, where one database reaches both. */
@NullMarked
package sharptally.core.compare.join;

import org.jspecify.annotations.NullMarked;
