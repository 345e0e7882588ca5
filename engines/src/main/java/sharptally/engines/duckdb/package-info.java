/** DuckDB. */
@NullMarked
package sharptally.engines.duckdb;

import org.jspecify.annotations.NullMarked;
