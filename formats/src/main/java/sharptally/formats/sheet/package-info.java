/** Sheets: the file that describes a job. */
@NullMarked
package sharptally.formats.sheet;

import org.jspecify.annotations.NullMarked;
