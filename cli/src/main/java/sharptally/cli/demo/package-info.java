/** The demo: two databases with planted differences, and the path through them. */
@NullMarked
package sharptally.cli.demo;

import org.jspecify.annotations.NullMarked;
