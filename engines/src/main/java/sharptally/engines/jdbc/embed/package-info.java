/**
 * A database within this program, by which files are asked in SQL. Files do not know which database that is, and the database
 * does not know what the files were.
 */
@NullMarked
package sharptally.engines.jdbc.embed;

import org.jspecify.annotations.NullMarked;
