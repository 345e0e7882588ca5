/** H2. */
@NullMarked
package sharptally.engines.h2;

import org.jspecify.annotations.NullMarked;
