/** Rows in batches of columns: holding, ordering, casting and reading them ahead. Start with {@code Column}. */
@NullMarked
package sharptally.core.rows;

import org.jspecify.annotations.NullMarked;
