/** PostgreSQL. */
@NullMarked
package sharptally.engines.postgresql;

import org.jspecify.annotations.NullMarked;
