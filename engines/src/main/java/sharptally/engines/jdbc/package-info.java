/** What all engines behind a JDBC driver share. Start with {@code JdbcEngine}. */
@NullMarked
package sharptally.engines.jdbc;

import org.jspecify.annotations.NullMarked;
