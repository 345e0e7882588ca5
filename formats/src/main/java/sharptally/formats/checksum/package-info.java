/** The checksum file. Start with {@code ChecksumFile}. */
@NullMarked
package sharptally.formats.checksum;

import org.jspecify.annotations.NullMarked;
