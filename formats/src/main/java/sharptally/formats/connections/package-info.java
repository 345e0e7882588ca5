/** Named places and how they are opened. */
@NullMarked
package sharptally.formats.connections;

import org.jspecify.annotations.NullMarked;
