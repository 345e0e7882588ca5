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
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.params.provider.Arguments;

/** A database that tests fill and look into by plain JDBC; those of servers are made with the first connection. */
record Database(Kind kind, Path folder, String name) {
    enum Kind {
        SQLITE,
        H2,
        DUCKDB,
        POSTGRESQL,
        MARIADB,
        POSTGRESQL_13,
        MYSQL;

        /** Every engine against every engine, and the oldest version of one against others. */
        static Stream<Arguments> pairs() {
            return Stream.of(values())
                    .flatMap(from -> Stream.of(values()).map(to -> Arguments.of(from, to)))
                    .filter(pair -> Stream.of(POSTGRESQL_13, MYSQL).noneMatch(List.of(pair.get())::contains)
                            || List.of(pair.get()).contains(POSTGRESQL)
                            || List.of(pair.get()).contains(SQLITE)
                            || List.of(pair.get()).equals(List.of(MYSQL, MYSQL)));
        }

        /** The kind whose words and ways this one shares. */
        Kind like() {
            return this == POSTGRESQL_13 ? POSTGRESQL : this == MYSQL ? MARIADB : this;
        }
    }

    private String server() {
        return switch (kind) {
            case POSTGRESQL -> Servers.postgres();
            case POSTGRESQL_13 -> Servers.oldestPostgres();
            case MYSQL -> Servers.mysql();
            default -> Servers.maria();
        };
    }

    /** On a server, names must differ between tests. */
    private String serverName() {
        return "st_" + Integer.toHexString(folder.toString().hashCode()) + "_" + name;
    }

    boolean isOnServer() {
        return kind.ordinal() >= Kind.POSTGRESQL.ordinal();
    }

    String address() {
        return switch (kind.like()) {
            case SQLITE -> "sqlite:" + name + ".db";
            case H2 -> "h2:" + name;
            case DUCKDB -> "duckdb:" + name + ".duckdb";
            case POSTGRESQL -> "postgresql://" + server() + "/" + serverName();
            case MARIADB -> kind.name().toLowerCase(Locale.ROOT) + "://" + server() + "/" + serverName();
            default -> throw new IllegalStateException();
        };
    }

    private String url() {
        return switch (kind.like()) {
            case SQLITE -> "jdbc:sqlite:" + folder.resolve(name + ".db");
            case H2 -> "jdbc:h2:file:" + folder.resolve(name).toAbsolutePath();
            case DUCKDB -> "jdbc:duckdb:" + folder.resolve(name + ".duckdb");
            case POSTGRESQL -> server("jdbc:postgresql://", server(), serverName());
            case MARIADB ->
                server("jdbc:mariadb://", server(), serverName())
                        + "&allowMultiQueries=true&sessionVariables=time_zone='+00:00'"
                        + (kind == Kind.MYSQL ? ",sql_mode='STRICT_ALL_TABLES,ALLOW_INVALID_DATES'" : "");
            default -> throw new IllegalStateException();
        };
    }

    private static String server(String start, String server, String database) {
        String[] parts = server.split("@");
        return start + parts[1] + "/" + database + "?user=" + parts[0];
    }

    Connection connect() throws SQLException {
        if (kind == Kind.H2) {
            return DriverManager.getConnection(url(), "sa", "");
        }
        try {
            return DriverManager.getConnection(url());
        } catch (SQLException e) {
            if (kind.like() == Kind.POSTGRESQL && "3D000".equals(e.getSQLState())) {
                make(server("jdbc:postgresql://", server(), "postgres"), "");
            } else if (kind.like() == Kind.MARIADB && e.getErrorCode() == 1049) {
                make(server("jdbc:mariadb://", server(), ""), " CHARACTER SET utf8mb4");
            } else {
                throw e;
            }
            return DriverManager.getConnection(url());
        }
    }

    private void make(String url, String options) throws SQLException {
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE DATABASE " + serverName() + options);
        }
    }

    /** On a server, takes the database away again; files are left to whoever made their folder. */
    void drop() throws SQLException {
        if (isOnServer()) {
            String url = kind.like() == Kind.POSTGRESQL
                    ? server("jdbc:postgresql://", server(), "postgres")
                    : server("jdbc:mariadb://", server(), "");
            try (Connection connection = DriverManager.getConnection(url);
                    Statement statement = connection.createStatement()) {
                statement.execute("DROP DATABASE IF EXISTS " + serverName());
            }
        }
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

    /** Has the MariaDB of the tests look at rights, which it does not by itself; everybody but root has to be granted some. */
    void lookAtRights() throws SQLException {
        execute(
                "FLUSH PRIVILEGES",
                "ALTER USER root@localhost IDENTIFIED VIA mysql_native_password USING PASSWORD('')",
                "DROP USER IF EXISTS ''@localhost");
    }

    /** The first column of a query's rows, as text. */
    List<String> values(String query) throws SQLException {
        List<String> values = new ArrayList<>();
        try (Connection connection = connect();
                Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(query)) {
            while (result.next()) {
                values.add(result.getString(1));
            }
        }
        return values;
    }

    String quote(String name) {
        return kind.like() == Kind.MARIADB
                ? '`' + name.replace("`", "``") + '`'
                : '"' + name.replace("\"", "\"\"") + '"';
    }

    /** Every row as one line of exact literals with their types, sorted. */
    List<String> exactRows(String table, List<String> columns) throws SQLException {
        String form = switch (kind.like()) {
            case SQLITE -> "typeof(%1$s) || ' ' || quote(%1$s) || ' ' || hex(%1$s)";
            case H2 -> "%s";
            case DUCKDB -> "CAST(%s AS VARCHAR)";
            case POSTGRESQL -> "CAST(%s AS text)";
            case MARIADB -> "hex(%s)";
            default -> throw new IllegalStateException();
        };
        List<String> terms = columns.stream().map(c -> form.formatted(quote(c))).toList();
        List<String> rows = new ArrayList<>();
        try (Connection connection = connect();
                Statement statement = connection.createStatement();
                ResultSet result =
                        statement.executeQuery("SELECT " + String.join(", ", terms) + " FROM " + quote(table))) {
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

    /** The same of a table and columns whose names are not quoted in this database. */
    List<String> rows(String table, List<String> columns) throws SQLException {
        return kind == Kind.H2
                ? exactRows(
                        table.toUpperCase(Locale.ROOT),
                        columns.stream().map(c -> c.toUpperCase(Locale.ROOT)).toList())
                : exactRows(table, columns);
    }

    /** Makes the changes of the latest run in this database: by {@code apply}, or by a script of a style. */
    Tool.Result change(Tool tool, String style, String... more) throws IOException {
        List<String> command = new ArrayList<>(
                style.equals("apply")
                        ? List.of("apply", tool.latestRun().toString(), "--yes")
                        : List.of("script", "--style", style));
        command.addAll(List.of(more));
        Tool.Result done = tool.run(command.toArray(new String[0]));
        return style.equals("apply") || done.code() != 0
                ? done
                : runScript(tool.latestRun().resolve("script.sql"));
    }

    /** Runs a script by the engine's own client where a machine surely has that, else statement by statement. */
    Tool.Result runScript(Path script) throws IOException {
        if (kind == Kind.SQLITE) {
            return Tool.process(folder, Files.readString(script), List.of("sqlite3", name + ".db"));
        }
        if (kind != Kind.H2) {
            return runByJdbc(script);
        }
        // What its client's main does, without another start of Java.
        try {
            new org.h2.tools.RunScript().runTool("-url", url(), "-user", "sa", "-script", script.toString());
            return new Tool.Result(0, "", "");
        } catch (SQLException e) {
            return new Tool.Result(1, "", String.valueOf(e.getMessage()));
        }
    }

    private Tool.Result runByJdbc(Path script) throws IOException {
        StringBuilder told = new StringBuilder();
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            // No statement has a line end within, but where a statement of ours is folded.
            for (String sql :
                    Files.readString(script).replaceAll(" \\\\gset.*", ";").split(";\n")) {
                String bare = sql.replaceAll("(?m)^(--|\\\\|\\.).*$", "").strip();
                if (!bare.isEmpty()) {
                    tell(statement, statement.execute(bare), told);
                }
            }
            return new Tool.Result(0, told.toString(), "");
        } catch (SQLException e) {
            return new Tool.Result(1, told.toString(), String.valueOf(e.getMessage()));
        }
    }

    /** What a client prints of a statement, if it gives one column. */
    private static void tell(Statement statement, boolean rows, StringBuilder told) throws SQLException {
        if (rows) {
            try (ResultSet answer = statement.getResultSet()) {
                while (answer.next()) {
                    told.append(answer.getString(1)).append('\n');
                }
            }
        }
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
                statement.execute("CREATE LOCAL TEMPORARY LINKED TABLE theirs ('', '" + other.url() + "', 'sa', '', '\""
                        + table + "\"')");
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
