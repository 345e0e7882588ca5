/** Names with wildcards, and values as people write them. */
@NullMarked
package sharptally.core.match.text;

import org.jspecify.annotations.NullMarked;
