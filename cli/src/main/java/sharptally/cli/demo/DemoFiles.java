package sharptally.cli.demo;

import java.io.BufferedWriter;
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
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What of the demo's archive is in files: an extract as CSV in which three lines are wrong, a backup as SQL, and a database
 * that has lost rows since.
 *
 * @param folder of the demo, in which the old archive is
 */
record DemoFiles(Path folder) {
    static final String EXTRACT = "extract.csv";
    static final String BACKUP = "backup.sql";
    static final String LIVE = "live.db";

    private static final List<String> TABLES = List.of("station", "instrument", "calibration");
    private static final int LINES = 500;

    void create() throws IOException, SQLException {
        Path live = folder.resolve(LIVE);
        for (String file : List.of(EXTRACT, BACKUP, LIVE, "extract.fixed.csv")) {
            Files.deleteIfExists(folder.resolve(file));
        }
        try (Connection old = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("old.db"))) {
            extract(old);
            backup(old);
        }
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + live);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA synchronous = OFF");
            statement.execute("ATTACH '" + folder.resolve("old.db") + "' AS old");
            for (String table : TABLES) {
                statement.execute(definition(connection, "old.", table));
                statement.execute("INSERT INTO main." + table + " SELECT * FROM old." + table);
            }
            statement.execute("DETACH old");
            statement.execute("DELETE FROM calibration WHERE calibrated_on LIKE '2019-%'");
            statement.execute("UPDATE calibration SET offset_mm = NULL WHERE instrument_id = 3");
            statement.execute("INSERT INTO calibration SELECT id, '2026-11-02', 0.25, 0.5, 'since the backup'"
                    + " FROM instrument WHERE id <= 2");
        }
    }

    /** The last readings; of one line the level was mistyped, one is lost, one should not be there. */
    private void extract(Connection old) throws IOException, SQLException {
        try (BufferedWriter out = Files.newBufferedWriter(folder.resolve(EXTRACT));
                Statement statement = old.createStatement();
                ResultSet rows = statement.executeQuery(
                        "SELECT id, station_code, taken_at, level_m, pressure_hpa, quality, remark FROM reading WHERE id >= "
                                + first(old) + " ORDER BY id")) {
            out.write("id;station_code;taken_at;level_m;pressure_hpa;quality;remark\n");
            for (int line = 1; rows.next(); line++) {
                List<String> fields = new ArrayList<>();
                for (int i = 1; i <= 7; i++) {
                    Object value = rows.getObject(i);
                    fields.add(value == null ? "" : value instanceof String text ? field(text) : value.toString());
                }
                if (line == 140) {
                    fields.set(3, "99.999");
                }
                if (line != 250) {
                    out.write(String.join(";", fields) + "\n");
                }
            }
            out.write("9999999;TG01;2030-01-01 00:00:00;0.000;1000.0;1;trial\n");
        }
    }

    private static String field(String text) {
        return text.isEmpty() || text.matches("(?s).*[;\"\n\r].*") ? '"' + text.replace("\"", "\"\"") + '"' : text;
    }

    /** The first key of the extract. */
    static long first(Connection old) throws SQLException {
        try (Statement statement = old.createStatement();
                ResultSet last = statement.executeQuery("SELECT max(id) FROM reading")) {
            last.next();
            return last.getLong(1) - LINES + 1;
        }
    }

    long first() {
        try (Connection old = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("old.db"))) {
            return first(old);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** As the client of SQLite writes it. */
    private void backup(Connection old) throws IOException, SQLException {
        try (BufferedWriter out = Files.newBufferedWriter(folder.resolve(BACKUP));
                Statement statement = old.createStatement()) {
            out.write("PRAGMA foreign_keys=OFF;\nBEGIN TRANSACTION;\n");
            for (String table : TABLES) {
                out.write(definition(old, "", table) + ";\n");
                List<String> columns = columns(old, table);
                String values =
                        columns.stream().map(c -> "quote(" + c + ")").collect(Collectors.joining(" || ',' || "));
                try (ResultSet rows = statement.executeQuery(String.format(
                        Locale.ROOT, "SELECT 'INSERT INTO %1$s VALUES(' || %2$s || ');' FROM %1$s", table, values))) {
                    while (rows.next()) {
                        out.write(rows.getString(1) + "\n");
                    }
                }
            }
            out.write("COMMIT;\n");
        }
    }

    private static String definition(Connection connection, String schema, String table) throws SQLException {
        return one(connection, "SELECT sql FROM " + schema + "sqlite_master WHERE name = '" + table + "'")
                .orElseThrow();
    }

    private static List<String> columns(Connection connection, String table) throws SQLException {
        return List.of(one(connection, "SELECT group_concat(name) FROM pragma_table_info('" + table + "')")
                .orElseThrow()
                .split(","));
    }

    private static Optional<String> one(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(query)) {
            return result.next() ? Optional.of(result.getString(1)) : Optional.empty();
        }
    }
}
