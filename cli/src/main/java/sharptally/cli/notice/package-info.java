/** Telling others how a run ended. */
@NullMarked
package sharptally.cli.notice;

import org.jspecify.annotations.NullMarked;
