/** From findings to statements: what to change, in which order, in which words. Start with {@code ChangePlan}. */
@NullMarked
package sharptally.core.script;

import org.jspecify.annotations.NullMarked;
