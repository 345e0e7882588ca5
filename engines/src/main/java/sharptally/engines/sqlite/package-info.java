/** SQLite. */
@NullMarked
package sharptally.engines.sqlite;

import org.jspecify.annotations.NullMarked;
