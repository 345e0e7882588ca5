/** The results of runs as rows of a database, for charts and queries of the user's own. */
@NullMarked
package sharptally.report.record;

import org.jspecify.annotations.NullMarked;
