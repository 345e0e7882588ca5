/** What executors do with the rows of a match, by the means of the core. */
@NullMarked
package sharptally.spark.work;

import org.jspecify.annotations.NullMarked;
