/** Changes of tables that are files: a new file is written, in which chosen rows are other ones. The old one stays. */
@NullMarked
package sharptally.core.script.rewrite;

import org.jspecify.annotations.NullMarked;
