import java.sql.DriverManager;
import java.util.Properties;

/** A client for DuckDB: runs statements on a file, and reads what they give to its end. */
final class Duck {
    private Duck() {}

    public static void main(String[] args) throws Exception {
        Class.forName("org.duckdb.DuckDBDriver");
        try (var connection = DriverManager.getConnection("jdbc:duckdb:" + args[0], new Properties());
                var statement = connection.createStatement()) {
            for (int i = 1; i < args.length; i++) {
                if (statement.execute(args[i])) {
                    try (var rows = statement.getResultSet()) {
                        while (rows.next()) {
                            rows.getObject(1);
                        }
                    }
                }
            }
        }
    }
}
