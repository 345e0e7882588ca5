/** Options that several commands share. */
@NullMarked
package sharptally.cli.option;

import org.jspecify.annotations.NullMarked;
