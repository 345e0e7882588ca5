/** MariaDB, and MySQL by the words in which it differs. */
@NullMarked
package sharptally.engines.mariadb;

import org.jspecify.annotations.NullMarked;
