/** Checksums of slices of the key: of rows on the cluster, and of a database that works them out by itself. */
@NullMarked
package sharptally.spark.sums;

import org.jspecify.annotations.NullMarked;
