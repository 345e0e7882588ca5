/** Intervals of the key, what is known of them, and checksums over them. Start with {@code KeyRange}. */
@NullMarked
package sharptally.core.range;

import org.jspecify.annotations.NullMarked;
