/** Tables of a lake: what they are like, and their rows. */
@NullMarked
package sharptally.spark.lake;

import org.jspecify.annotations.NullMarked;
