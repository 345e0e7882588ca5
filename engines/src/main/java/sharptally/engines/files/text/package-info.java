/**
 * The rows of one file: its bytes unpacked, its characters decoded, its records taken apart. Start at {@code RowsOfFile}.
 * Knows no tables, no batches and no comparison.
 */
@NullMarked
package sharptally.engines.files.text;

import org.jspecify.annotations.NullMarked;
