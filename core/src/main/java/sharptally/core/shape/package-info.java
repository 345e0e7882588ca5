/** Tables, columns and keys as databases declare them. */
@NullMarked
package sharptally.core.shape;

import org.jspecify.annotations.NullMarked;
