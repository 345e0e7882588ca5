/** The database engines: a package each, and their list. */
@NullMarked
package sharptally.engines;

import org.jspecify.annotations.NullMarked;
