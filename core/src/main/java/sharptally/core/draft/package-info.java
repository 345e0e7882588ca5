/**
 * Proposes which tables and columns of two places belong together, and by what keys. Start with {@code Drafting}. What
 * is proposed here is for a person to check; nothing is compared.
 */
@NullMarked
package sharptally.core.draft;

import org.jspecify.annotations.NullMarked;
