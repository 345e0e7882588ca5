/** Records of text files by their bytes, without making characters or values of them. Start at {@code RawRecords}. */
@NullMarked
package sharptally.engines.files.raw;

import org.jspecify.annotations.NullMarked;
