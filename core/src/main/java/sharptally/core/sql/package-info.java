/** Statements as values, and how each engine wants them written. */
@NullMarked
package sharptally.core.sql;

import org.jspecify.annotations.NullMarked;
