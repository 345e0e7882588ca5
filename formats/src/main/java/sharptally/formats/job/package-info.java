/** Job files: the file that describes a job. */
@NullMarked
package sharptally.formats.job;

import org.jspecify.annotations.NullMarked;
