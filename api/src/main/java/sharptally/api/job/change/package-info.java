/** Changing the target: scripts, applying, looking again. */
@NullMarked
package sharptally.api.job.change;

import org.jspecify.annotations.NullMarked;
