/** Results as lines for a terminal. */
@NullMarked
package sharptally.report.text;

import org.jspecify.annotations.NullMarked;
