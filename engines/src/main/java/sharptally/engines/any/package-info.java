/** Any other database with a JDBC driver. */
@NullMarked
package sharptally.engines.any;

import org.jspecify.annotations.NullMarked;
