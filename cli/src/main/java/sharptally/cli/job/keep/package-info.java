/** Run folders while jobs work on them. */
@NullMarked
package sharptally.cli.job.keep;

import org.jspecify.annotations.NullMarked;
