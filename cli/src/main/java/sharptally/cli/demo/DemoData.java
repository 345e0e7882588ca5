package sharptally.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Iterator;
import java.util.Locale;
import java.util.Objects;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.types.TimeText;

/** Makes the two databases of the demo: the old archive in SQLite, the new one in H2, and a job file for them. */
public final class DemoData {
    private static final int ROWS_PER_BATCH = 5_000;

    private static final String[] OLD = {
        """
        CREATE TABLE station (
          code TEXT PRIMARY KEY NOT NULL, name TEXT NOT NULL, latitude DOUBLE, longitude DOUBLE, opened DATE,
          main_code TEXT REFERENCES station (code), remark TEXT)""", """
        CREATE TABLE instrument (
          id INTEGER PRIMARY KEY, station_code TEXT NOT NULL REFERENCES station (code), kind VARCHAR(20),
          serial_no VARCHAR(20) UNIQUE, installed_at TIMESTAMP, accuracy_mm DECIMAL(6,3))""", """
        CREATE TABLE calibration (
          instrument_id INTEGER NOT NULL REFERENCES instrument (id), calibrated_on DATE NOT NULL,
          offset_mm DECIMAL(8,3), drift DOUBLE, note TEXT, PRIMARY KEY (instrument_id, calibrated_on))""", """
        CREATE TABLE reading (
          id INTEGER PRIMARY KEY, station_code TEXT NOT NULL REFERENCES station (code), taken_at TIMESTAMP NOT NULL,
          level_m DECIMAL(7,3), pressure_hpa DOUBLE, quality SMALLINT, remark VARCHAR(80))""", """
        CREATE TABLE high_water (
          id INTEGER PRIMARY KEY, station_code TEXT NOT NULL, tide_day DATE NOT NULL, high_m DECIMAL(6,3),
          low_m DECIMAL(6,3), range_m DECIMAL(6,3) GENERATED ALWAYS AS (round(high_m - low_m, 3)))""", "CREATE TABLE watch_log (written_on DATE, station_code TEXT, words TEXT)"
    };

    private static final String[] NEW = {
        """
        CREATE TABLE station (
          code VARCHAR(8) PRIMARY KEY, name VARCHAR(60) NOT NULL, latitude DOUBLE PRECISION,
          longitude DOUBLE PRECISION, opened DATE, main_code VARCHAR(8) REFERENCES station, remark VARCHAR(200))""", """
        CREATE TABLE gauge (
          gauge_id BIGINT PRIMARY KEY, station VARCHAR(8) NOT NULL REFERENCES station, kind CHAR(10),
          serial VARCHAR(20) UNIQUE, installed TIMESTAMP(3), accuracy_mm NUMERIC(6,3))""", """
        CREATE TABLE calibration (
          instrument_id BIGINT NOT NULL REFERENCES gauge, calibrated_on DATE NOT NULL, offset_mm NUMERIC(8,3),
          drift DOUBLE PRECISION, note CLOB, PRIMARY KEY (instrument_id, calibrated_on))""", """
        CREATE TABLE reading (
          id BIGINT PRIMARY KEY, station_code VARCHAR(8) NOT NULL, taken_at TIMESTAMP(0) NOT NULL,
          level_m NUMERIC(7,3), pressure_hpa DOUBLE PRECISION, quality SMALLINT, remark VARCHAR(80))""", """
        CREATE TABLE high_water (
          id BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY, station_code VARCHAR(8) NOT NULL, tide_day DATE NOT NULL,
          high_m NUMERIC(6,3), low_m NUMERIC(6,3), range_m NUMERIC(6,3) GENERATED ALWAYS AS (high_m - low_m))""", "CREATE TABLE watch_log (written_on DATE, station_code VARCHAR(8), words VARCHAR(200))"
    };

    private static final String JOB_FILE = """
            # The tide-gauge archive, compared with its new home.
            job: 1
            source: "sqlite:%1$s/old.db"
            target: "h2:%1$s/new"
            matches:
              - source: station
              - source: instrument          # has another name on the new side, and so have some columns
                target: gauge
                columns:
                  - {source: id, target: gauge_id}
                  - {source: station_code, target: station}
                  - {source: serial_no, target: serial}
                  - {source: installed_at, target: installed}
              - source: calibration
              - source: reading
              - source: high_water
              - source: watch_log           # has no key: whole rows are counted
            """;

    private final Path folder;
    private final TideTables tables;

    /**
     * @param readings rows of the largest table, at least 1,000
     */
    public DemoData(Path folder, int readings) {
        this.folder = folder;
        this.tables = new TideTables(readings);
    }

    /** Makes the folder and all in it; files of an earlier demo are replaced. */
    public void create() {
        Path old = folder.resolve("old.db");
        Path fresh = folder.resolve("new.mv.db");
        try {
            Files.createDirectories(folder);
            Files.deleteIfExists(old);
            Files.deleteIfExists(fresh);
            Files.writeString(folder.resolve("tide.yaml"), String.format(Locale.ROOT, JOB_FILE, folder));
            Files.writeString(
                    folder.resolve("moved.yaml"), resource("moved.yaml").replace("@@", folder.toString()));
            try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + old)) {
                fillOld(connection);
            }
            new DemoFiles(folder).create();
            try (Connection connection = DriverManager.getConnection(
                    "jdbc:h2:file:" + folder.resolve("new").toAbsolutePath(), "sa", "")) {
                fillNew(connection);
            }
        } catch (IOException | SQLException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't make the demo data",
                    folder + " (" + e.getMessage() + ")",
                    "choose another folder with --out-folder",
                    e);
        }
    }

    /** The key from which on readings are in the extract. */
    public long extractFrom() {
        return new DemoFiles(folder).first();
    }

    private void fillOld(Connection connection) throws SQLException {
        Slips slips = new Slips(tables);
        execute(connection, "PRAGMA synchronous = OFF");
        for (String table : OLD) {
            execute(connection, table);
        }
        UnaryOperator<Object> form = DemoData::asSqlite;
        insert(connection, "station", 7, "", form, slips.oldStation());
        insert(connection, "instrument", 6, "", form, tables.instrument().map(r -> Slips.atArrivedStation(r, 1)));
        insert(connection, "calibration", 5, "", form, tables.calibration());
        insert(connection, "reading", 7, "", form, tables.reading().map(r -> Slips.atArrivedStation(r, 1)));
        insert(connection, "high_water", 5, "", form, tables.highWater());
        insert(connection, "watch_log", 3, "", form, tables.watchLog());
        executeAll(connection, "old.sql");
    }

    private void fillNew(Connection connection) throws SQLException {
        Slips slips = new Slips(tables);
        for (String table : NEW) {
            execute(connection, table);
        }
        // A station may name one that comes later.
        execute(connection, "SET REFERENTIAL_INTEGRITY FALSE");
        UnaryOperator<Object> form = UnaryOperator.identity();
        insert(connection, "station", 7, "", form, slips.station());
        execute(connection, "SET REFERENTIAL_INTEGRITY TRUE");
        insert(connection, "gauge", 6, "", form, slips.instrument().map(r -> Slips.atArrivedStation(r, 1)));
        insert(connection, "calibration", 5, "", form, slips.calibration());
        insert(connection, "reading", 7, "", form, slips.reading().map(r -> Slips.atArrivedStation(r, 1)));
        String highWater = "(id, station_code, tide_day, high_m, low_m) OVERRIDING SYSTEM VALUE";
        insert(connection, "high_water", 5, highWater, form, slips.highWater());
        insert(connection, "watch_log", 3, "", form, slips.watchLog());
        executeAll(connection, "new.sql");
    }

    /** Tables that were moved in other ways than row by row, with a slip here and there. */
    private static void executeAll(Connection connection, String script) throws SQLException {
        for (String statement : resource(script).split(";\\n")) {
            execute(connection, statement);
        }
    }

    private static String resource(String name) {
        try (InputStream in = DemoData.class.getResourceAsStream(name)) {
            return new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** SQLite has no dates and decimals: text, and numbers by the column's affinity. */
    private static Object asSqlite(Object value) {
        if (value instanceof LocalDateTime time) {
            return TimeText.timestamp(time);
        }
        return value instanceof LocalDate || value instanceof BigDecimal ? value.toString() : value;
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private static void insert(
            Connection connection,
            String table,
            int columns,
            String middle,
            UnaryOperator<Object> form,
            Stream<Object[]> rows)
            throws SQLException {
        String sql = "INSERT INTO " + table + " " + middle + " VALUES (" + "?, ".repeat(columns - 1) + "?)";
        connection.setAutoCommit(false);
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            int waiting = 0;
            for (Iterator<Object[]> each = rows.iterator(); each.hasNext(); ) {
                Object[] row = each.next();
                for (int i = 0; i < columns; i++) {
                    statement.setObject(i + 1, form.apply(row[i]));
                }
                statement.addBatch();
                if (++waiting == ROWS_PER_BATCH) {
                    statement.executeBatch();
                    waiting = 0;
                }
            }
            statement.executeBatch();
        }
        connection.commit();
        connection.setAutoCommit(true);
    }
}
