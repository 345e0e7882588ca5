/** Checksums and totals that a database works out. */
@NullMarked
package sharptally.engines.jdbc.sums;

import org.jspecify.annotations.NullMarked;
