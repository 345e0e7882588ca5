/** Named places and how they are opened. */
@NullMarked
package sharptally.formats.places;

import org.jspecify.annotations.NullMarked;
