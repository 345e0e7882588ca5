/** Run folders while jobs work on them. */
@NullMarked
package sharptally.api.job.keep;

import org.jspecify.annotations.NullMarked;
