package sharptally.acceptance;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/** A database file that tests fill and look into by plain JDBC. */
record Database(Kind kind, Path folder, String name) {
    enum Kind {
        SQLITE,
        H2
    }

    String address() {
        return kind == Kind.SQLITE ? "sqlite:" + name + ".db" : "h2:" + name;
    }

    Connection connect() throws SQLException {
        return kind == Kind.SQLITE
                ? DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(name + ".db"))
                : DriverManager.getConnection(
                        "jdbc:h2:file:" + folder.resolve(name).toAbsolutePath(), "sa", "");
    }

    Database execute(String... statements) throws SQLException {
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
        return this;
    }

    /** Every row as one line of exact literals with their types, sorted. */
    List<String> exactRows(String table, List<String> columns) throws SQLException {
        String form = kind == Kind.SQLITE ? "typeof(%1$s) || ' ' || quote(%1$s) || ' ' || hex(%1$s)" : "%s";
        List<String> terms = columns.stream()
                .map(c -> form.formatted('"' + c.replace("\"", "\"\"") + '"'))
                .toList();
        List<String> rows = new ArrayList<>();
        try (Connection connection = connect();
                Statement statement = connection.createStatement();
                ResultSet result =
                        statement.executeQuery("SELECT " + String.join(", ", terms) + " FROM \"" + table + '"')) {
            while (result.next()) {
                StringBuilder row = new StringBuilder();
                for (int i = 1; i <= columns.size(); i++) {
                    Object value = result.getObject(i);
                    String text = value instanceof byte[] bytes
                            ? java.util.HexFormat.of().formatHex(bytes)
                            : value instanceof java.sql.Clob clob
                                    ? clob.getSubString(1, (int) clob.length())
                                    : String.valueOf(value);
                    row.append(text).append(" | ");
                }
                rows.add(row.toString());
            }
        }
        rows.sort(null);
        return rows;
    }

    /** Runs a script by the engine's own client. */
    Tool.Result runScript(Path script) throws IOException {
        if (kind == Kind.SQLITE) {
            return Tool.process(folder, Files.readString(script), List.of("sqlite3", name + ".db"));
        }
        String h2 = org.h2.tools.RunScript.class
                .getProtectionDomain()
                .getCodeSource()
                .getLocation()
                .getPath();
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        String url = "jdbc:h2:file:" + folder.resolve(name).toAbsolutePath();
        return Tool.process(
                folder,
                "",
                List.of(
                        java,
                        "-cp",
                        h2,
                        "org.h2.tools.RunScript",
                        "-url",
                        url,
                        "-user",
                        "sa",
                        "-script",
                        script.toString()));
    }

    /** Rows that one of two tables has and the other has not, counted by the database itself, both ways. */
    long rowsNotInBoth(Database other, String table) throws SQLException {
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            String theirs;
            if (kind == Kind.SQLITE) {
                statement.execute("ATTACH '" + other.folder.resolve(other.name + ".db") + "' AS other");
                theirs = "other.\"" + table + '"';
            } else {
                String url = "jdbc:h2:file:" + other.folder.resolve(other.name).toAbsolutePath();
                statement.execute("CREATE LOCAL TEMPORARY LINKED TABLE theirs ('', '" + url + "', 'sa', '', '\"" + table
                        + "\"')");
                theirs = "theirs";
            }
            String mine = '"' + table + '"';
            String sql = "SELECT count(*) FROM (SELECT * FROM (SELECT * FROM %1$s EXCEPT SELECT * FROM %2$s) a"
                    + " UNION ALL SELECT * FROM (SELECT * FROM %2$s EXCEPT SELECT * FROM %1$s) b) c";
            try (ResultSet result = statement.executeQuery(sql.formatted(mine, theirs))) {
                result.next();
                return result.getLong(1);
            }
        }
    }
}
