/** What an engine must offer so that its databases can be compared and changed. Start with {@code Engine}. */
@NullMarked
package sharptally.core.place;

import org.jspecify.annotations.NullMarked;
