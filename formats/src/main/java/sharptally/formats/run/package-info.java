/** Run folders: what a comparison leaves behind. Start with {@code RunFolder} and {@code RunWriter}. */
@NullMarked
package sharptally.formats.run;

import org.jspecify.annotations.NullMarked;
