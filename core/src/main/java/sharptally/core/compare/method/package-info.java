/** Which method a match is compared by: what speaks against each, what each would take, and the decision. */
@NullMarked
package sharptally.core.compare.method;

import org.jspecify.annotations.NullMarked;
