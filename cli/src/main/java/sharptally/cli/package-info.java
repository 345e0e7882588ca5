/** The commands: each parses, calls a job, and prints its result. Start with {@code Main}. */
@NullMarked
package sharptally.cli;

import org.jspecify.annotations.NullMarked;
