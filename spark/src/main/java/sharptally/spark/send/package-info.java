/** How what executors need to know is sent to them: as text, without anything secret. */
@NullMarked
package sharptally.spark.send;

import org.jspecify.annotations.NullMarked;
