/** Comparing by checksums that the databases work out: only slices of keys that differ are read. */
@NullMarked
package sharptally.core.compare.checksum;

import org.jspecify.annotations.NullMarked;
