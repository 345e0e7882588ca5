/** Changing the target: scripts, applying, looking again. */
@NullMarked
package sharptally.cli.job.change;

import org.jspecify.annotations.NullMarked;
