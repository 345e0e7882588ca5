/** What a probe of a server found. */
@NullMarked
package sharptally.report.probe;

import org.jspecify.annotations.NullMarked;
