/** The jobs that commands call, without any option or screen. */
@NullMarked
package sharptally.api.job;

import org.jspecify.annotations.NullMarked;
