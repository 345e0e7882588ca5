/** The jobs that commands call, without any option or screen. */
@NullMarked
package sharptally.cli.job;

import org.jspecify.annotations.NullMarked;
