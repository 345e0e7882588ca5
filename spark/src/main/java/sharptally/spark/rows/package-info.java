/** Rows of either side as executors have them. */
@NullMarked
package sharptally.spark.rows;

import org.jspecify.annotations.NullMarked;
