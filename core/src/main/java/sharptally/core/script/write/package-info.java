/** Changes as statements of one engine, and the script around them. Start with {@code ScriptWriter}. */
@NullMarked
package sharptally.core.script.write;

import org.jspecify.annotations.NullMarked;
