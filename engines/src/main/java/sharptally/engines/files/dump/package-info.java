/**
 * Backups that are written as SQL: the tables that they make, and the rows that they put into them. Nothing in them is
 * executed; what is no table and no row is passed over. Start at {@code Dump}.
 */
@NullMarked
package sharptally.engines.files.dump;

import org.jspecify.annotations.NullMarked;
