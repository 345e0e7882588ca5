/** Profiles of engines, as files. */
@NullMarked
package sharptally.formats.profile;

import org.jspecify.annotations.NullMarked;
