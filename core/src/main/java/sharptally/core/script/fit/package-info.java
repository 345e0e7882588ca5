/** What becomes of a value in a column that can't hold it as it is. */
@NullMarked
package sharptally.core.script.fit;

import org.jspecify.annotations.NullMarked;
