/** What a user says of matches: tables, key, columns, rules, and what to leave out. Start with {@code MatchRequest}. */
@NullMarked
package sharptally.core.match.request;

import org.jspecify.annotations.NullMarked;
