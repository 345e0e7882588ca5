/** Making checksums of a table, and holding them against those of a file. Start at {@code ChecksumJob}. */
@NullMarked
package sharptally.api.job.checksum;

import org.jspecify.annotations.NullMarked;
