/** The terminal: results, progress, the pager, what is typed. */
@NullMarked
package sharptally.cli.screen;

import org.jspecify.annotations.NullMarked;
