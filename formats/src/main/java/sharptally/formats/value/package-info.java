/** Values and findings as JSON. */
@NullMarked
package sharptally.formats.value;

import org.jspecify.annotations.NullMarked;
