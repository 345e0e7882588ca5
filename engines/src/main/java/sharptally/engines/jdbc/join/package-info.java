/** Joins of two tables that one database reaches. */
@NullMarked
package sharptally.engines.jdbc.join;

import org.jspecify.annotations.NullMarked;
