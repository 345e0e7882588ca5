/** What is known of an engine beyond what its driver says, as a file that users can write. */
@NullMarked
package sharptally.core.place.profile;

import org.jspecify.annotations.NullMarked;
