/** The common form of values and the checksum of rows, as {@code docs/checksums.md} specifies them. */
@NullMarked
package sharptally.core.checksum;

import org.jspecify.annotations.NullMarked;
