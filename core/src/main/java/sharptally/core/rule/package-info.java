/** Rules by which two values are held equal that are not equal as they stand. Start with {@code Rule}. */
@NullMarked
package sharptally.core.rule;

import org.jspecify.annotations.NullMarked;
