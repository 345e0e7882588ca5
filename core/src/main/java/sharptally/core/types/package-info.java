/** Canonical types and values that all engines share. */
@NullMarked
package sharptally.core.types;

import org.jspecify.annotations.NullMarked;
