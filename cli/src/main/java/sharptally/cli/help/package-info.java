/** Help pages, the manual, completion for shells. */
@NullMarked
package sharptally.cli.help;

import org.jspecify.annotations.NullMarked;
