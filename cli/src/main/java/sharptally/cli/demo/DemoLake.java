package sharptally.cli.demo;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/** The readings of the demo's archive as Parquet, as a lake would hold them: some are lost there, and some are of another level. */
public record DemoLake(Path folder) {
    private static final String ROWS = "SELECT id, station_code, taken_at, level_m, quality FROM reading ORDER BY id";

    /** The folder of the table. */
    public Path create() {
        Path lake = folder.resolve("lake").resolve("reading");
        Path csv = folder.resolve("lake.csv");
        try (Connection old = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("old.db"));
                Connection duck = DriverManager.getConnection("jdbc:duckdb:");
                Statement copy = duck.createStatement()) {
            Files.createDirectories(lake);
            write(old, csv);
            copy.execute(
                    "CREATE TABLE reading (id BIGINT, station_code VARCHAR, taken_at TIMESTAMP, level_m DECIMAL(7,3),"
                            + " quality SMALLINT)");
            copy.execute("COPY reading FROM '" + csv + "' (HEADER)");
            copy.execute("DELETE FROM reading WHERE id % 40009 = 11");
            copy.execute("UPDATE reading SET level_m = level_m + 0.010 WHERE id % 30011 = 5");
            for (int part = 0; part < 4; part++) {
                copy.execute("COPY (FROM reading WHERE id % 4 = " + part + ") TO '" + lake.resolve("part-" + part)
                        + ".parquet' (FORMAT parquet)");
            }
            Files.delete(csv);
            return lake;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void write(Connection old, Path csv) throws IOException, SQLException {
        try (BufferedWriter out = Files.newBufferedWriter(csv);
                Statement statement = old.createStatement();
                ResultSet rows = statement.executeQuery(ROWS)) {
            out.write("id,station_code,taken_at,level_m,quality\n");
            while (rows.next()) {
                for (int i = 1; i <= 5; i++) {
                    Object value = rows.getObject(i);
                    out.write(value == null ? "" : value.toString());
                    out.write(i == 5 ? '\n' : ',');
                }
            }
        }
    }
}
