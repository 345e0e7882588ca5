/** Files that are written anew: records in the form of a file that was read, between lines that stay as they are. */
@NullMarked
package sharptally.engines.files.write;

import org.jspecify.annotations.NullMarked;
