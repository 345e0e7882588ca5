/** What commands do where a target is files. */
@NullMarked
package sharptally.cli.file;

import org.jspecify.annotations.NullMarked;
