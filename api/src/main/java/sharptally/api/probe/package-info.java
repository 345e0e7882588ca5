/** Finds out on a server of the user's own what is exact there. */
@NullMarked
package sharptally.api.probe;

import org.jspecify.annotations.NullMarked;
