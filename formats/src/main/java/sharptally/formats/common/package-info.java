/** What rows of a run have in common, as it is kept in the run's folder. */
@NullMarked
package sharptally.formats.common;

import org.jspecify.annotations.NullMarked;
