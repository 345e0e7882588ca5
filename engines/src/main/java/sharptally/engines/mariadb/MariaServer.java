package sharptally.engines.mariadb;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Which of the two servers answers, and of which version; what only some of them know, by their documentation. MySQL 5.6 is
 * tested, 5.7 and 8 are not.
 *
 * @param version such as 50624 of 5.6.24
 */
record MariaServer(boolean mariaDb, int version) {
    private static final Pattern VERSION = Pattern.compile("(\\d+)\\.(\\d+)\\.(\\d+)");
    private static final int OLDEST_MYSQL = 50_605;
    private static final int OLDEST_MARIADB = 100_206;

    static MariaServer of(Connection connection) throws SQLException {
        DatabaseMetaData told = connection.getMetaData();
        Matcher numbers = VERSION.matcher(told.getDatabaseProductVersion());
        if (!numbers.find()) {
            throw new SQLException("not a version: " + told.getDatabaseProductVersion());
        }
        int version = 10_000 * Integer.parseInt(numbers.group(1))
                + 100 * Integer.parseInt(numbers.group(2))
                + Integer.parseInt(numbers.group(3));
        return new MariaServer(told.getDatabaseProductName().contains("MariaDB"), version);
    }

    /** As people call it. */
    String product() {
        return mariaDb ? "MariaDB" : "MySQL";
    }

    /** Whether transactions that only read are known, without which nothing may be read. */
    boolean isSupported() {
        return version >= (mariaDb ? OLDEST_MARIADB : OLDEST_MYSQL);
    }

    private boolean knows(int sinceMySql) {
        return mariaDb || version >= sinceMySql;
    }

    boolean generatesColumns() {
        return knows(50_706);
    }

    boolean hasRoles() {
        return knows(80_000);
    }

    boolean numbersRows() {
        return knows(80_000);
    }

    boolean endsStatements() {
        return knows(50_708);
    }

    String longest() {
        return mariaDb ? "max_statement_time" : "max_execution_time";
    }

    String readOnly() {
        return !mariaDb && version >= 50_720 ? "transaction_read_only" : "tx_read_only";
    }
}
