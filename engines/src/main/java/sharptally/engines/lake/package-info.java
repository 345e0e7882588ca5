/** Tables of a lake, which a cluster reads. */
@NullMarked
package sharptally.engines.lake;

import org.jspecify.annotations.NullMarked;
