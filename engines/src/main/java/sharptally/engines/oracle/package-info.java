/** Oracle Database. Written from its documentation, and parsed: no server of it was at hand. */
@NullMarked
package sharptally.engines.oracle;

import org.jspecify.annotations.NullMarked;
