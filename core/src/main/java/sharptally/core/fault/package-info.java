/** Expected failures and what they mean to the caller. */
@NullMarked
package sharptally.core.fault;

import org.jspecify.annotations.NullMarked;
