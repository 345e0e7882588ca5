/** Comparisons on a cluster: the same jobs, run by the driver of Apache Spark. */
@NullMarked
package sharptally.spark;

import org.jspecify.annotations.NullMarked;
