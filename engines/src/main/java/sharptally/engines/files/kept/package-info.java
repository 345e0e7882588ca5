/**
 * What was read of large dumps, kept for the next time in a folder that is its owner's alone, until it was not used for some
 * days. Start at {@code Kept}.
 */
@NullMarked
package sharptally.engines.files.kept;

import org.jspecify.annotations.NullMarked;
