/** Telling others how a run ended. */
@NullMarked
package sharptally.cli.job.notice;

import org.jspecify.annotations.NullMarked;
