package sharptally.api;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The examples of {@code docs/api.md}, compiled and run as they stand there. */
class ApiDocsTest {
    private static final String ARCHIVE = """
            import javax.sql.DataSource;
            import org.h2.jdbcx.JdbcConnectionPool;

            public class Archive {
                public static DataSource oldPool() {
                    return JdbcConnectionPool.create("jdbc:h2:mem:old_archive", "sa", "");
                }

                public static DataSource newPool() {
                    return JdbcConnectionPool.create("jdbc:h2:mem:new_archive", "sa", "");
                }
            }
            """;

    @TempDir
    Path folder;

    private Connection older;
    private Connection newer;

    @BeforeEach
    void archive() throws SQLException {
        older = DriverManager.getConnection("jdbc:h2:mem:old_archive", "sa", "");
        newer = DriverManager.getConnection("jdbc:h2:mem:new_archive", "sa", "");
        try (Connection file = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("old.db"))) {
            for (Connection each : List.of(older, newer, file)) {
                execute(each, "CREATE TABLE station (code VARCHAR(8) PRIMARY KEY, name VARCHAR(40))");
                execute(each, "CREATE TABLE reading (id INT PRIMARY KEY, station VARCHAR(8), level DECIMAL(7,3))");
                execute(each, "INSERT INTO station VALUES ('C1', 'Crow Point')");
                execute(each, "INSERT INTO reading VALUES (1, 'C1', 1.25), (2, 'C1', 1.5), (3, 'C1', 1.75)");
            }
        }
    }

    @AfterEach
    void gone() throws SQLException {
        older.close();
        newer.close();
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Test
    void examplesDoWhatThePageSays() throws Exception {
        Files.writeString(folder.resolve("Archive.java"), ARCHIVE);
        assertThat(DocExamples.compile("api.md", folder))
                .containsExactly("MigrationTest", "NightlyCheck", "Repair", "Ways");

        try (var loader = new URLClassLoader(
                new URL[] {folder.toUri().toURL()}, getClass().getClassLoader())) {
            Method lostNothing = loader.loadClass("MigrationTest").getDeclaredMethod("migrationLostNothing");
            lostNothing.setAccessible(true);
            call(lostNothing, loader.loadClass("MigrationTest"));

            execute(newer, "UPDATE reading SET level = 9 WHERE id = 2");
            execute(newer, "DELETE FROM reading WHERE id = 3");
            assertThat(thrownBy(lostNothing, loader.loadClass("MigrationTest")))
                    .isInstanceOf(AssertionError.class)
                    .hasMessageContaining("DIFFERENT")
                    .hasMessageContaining("READING");

            Class<?> ways = loader.loadClass("Ways");
            assertThat(printed(() -> main(ways))).contains("same as on the disk: false\n# ");

            assertThat(printed(() -> main(loader.loadClass("Repair"))))
                    .contains("LEVEL sum: 4.5, 10.25\n")
                    .contains("2 changes in fix.sql, undone by fix.undo.sql\n2 rows changed, 0 keys still differ\n");

            assertThat(printed(() -> main(ways))).contains("same as on the disk: true\n");

            execute(newer, "UPDATE station SET name = 'Crow Pt' WHERE code = 'C1'");
            Path job = Files.writeString(
                    folder.resolve("job.yaml"),
                    "job: 1\nsource: sqlite:" + folder.resolve("old.db") + "\ntarget: sqlite:"
                            + folder.resolve("${ARCHIVE}.db") + "\n");
            Files.copy(folder.resolve("old.db"), folder.resolve("tides.db"));
            try (Connection file = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("tides.db"))) {
                execute(file, "UPDATE station SET name = 'Crow Pt'");
            }
            Path runs = folder.resolve("runs");
            Runnable nightly = (Runnable) loader.loadClass("NightlyCheck")
                    .getConstructor(Path.class, Path.class)
                    .newInstance(job, runs);
            assertThat(printed(nightly::run))
                    .contains("compared station\n", "DIFFERENT, kept in 2")
                    .contains("station CHANGED {code=C1}: {name=Crow Point} -> {name=Crow Pt}\n");
            assertThat(runs.resolve("report.html")).exists();
        }
    }

    private void main(Class<?> example) throws Exception {
        call(example.getMethod("main", String[].class), null, (Object) new String[] {folder.toString()});
    }

    private static void call(Method method, Class<?> of) throws Exception {
        var constructor = of.getDeclaredConstructor();
        constructor.setAccessible(true);
        call(method, constructor.newInstance());
    }

    private static void call(Method method, Object on, Object... arguments) throws Exception {
        try {
            method.invoke(on, arguments);
        } catch (InvocationTargetException e) {
            if (e.getCause() instanceof Error error) {
                throw error;
            }
            throw (Exception) e.getCause();
        }
    }

    private static Throwable thrownBy(Method method, Class<?> of) {
        try {
            call(method, of);
            return new IllegalStateException("nothing was thrown");
        } catch (Exception | Error e) {
            return e;
        }
    }

    private interface Work {
        void run() throws Exception;
    }

    private static String printed(Work work) throws Exception {
        PrintStream out = System.out;
        ByteArrayOutputStream printed = new ByteArrayOutputStream();
        System.setOut(new PrintStream(printed, true, StandardCharsets.UTF_8));
        try {
            work.run();
        } finally {
            System.setOut(out);
        }
        return printed.toString(StandardCharsets.UTF_8);
    }
}
