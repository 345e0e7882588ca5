/** Trino, which reaches the tables of other systems through its catalogues. */
@NullMarked
package sharptally.engines.trino;

import org.jspecify.annotations.NullMarked;
