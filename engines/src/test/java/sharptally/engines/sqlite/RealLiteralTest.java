package sharptally.engines.sqlite;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.DoubleStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Floating numbers reach a database through the engine's own client to the bit. */
class RealLiteralTest {
    private static final int VALUES = 4_000;

    @TempDir
    Path folder;

    @Test
    void theClientReadsEveryNumberExactly() throws Exception {
        long seed = System.nanoTime();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        List<Double> values = Stream.of(
                        DoubleStream.of(
                                0.1,
                                -0.0,
                                1e23,
                                4.9e-324,
                                Double.MIN_NORMAL,
                                Double.MAX_VALUE,
                                0x1p53 + 2,
                                1 / 3.0,
                                0x1p63),
                        random.doubles(VALUES, -1e6, 1e6),
                        random.longs(VALUES)
                                .mapToDouble(Double::longBitsToDouble)
                                .filter(Double::isFinite),
                        random.ints(VALUES).mapToDouble(Float::intBitsToFloat).filter(Double::isFinite),
                        random.longs(VALUES, -1_000_000_000_000L, 1_000_000_000_000L)
                                .mapToDouble(n -> n / 10_000.0))
                .flatMap(DoubleStream::boxed)
                .toList();
        Path file = folder.resolve("numbers.db");
        String script = values.stream()
                .map(v -> "INSERT INTO n VALUES (" + RealLiteral.of(v) + ");")
                .collect(Collectors.joining("\n", "CREATE TABLE n (v REAL);\nBEGIN;\n", "\nCOMMIT;\n"));
        Path sql = Files.writeString(folder.resolve("numbers.sql"), script);
        Process client = new ProcessBuilder("sqlite3", "-bail", file.toString())
                .inheritIO()
                .redirectInput(sql.toFile())
                .start();
        assertThat(client.waitFor()).isZero();
        List<Double> read = new ArrayList<>();
        try (var connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                var statement = connection.createStatement();
                var result = statement.executeQuery("SELECT v FROM n ORDER BY rowid")) {
            while (result.next()) {
                read.add(result.getDouble(1));
            }
        }
        assertThat(read).as("seed " + seed).hasSameSizeAs(values);
        for (int i = 0; i < read.size(); i++) {
            // SQLite keeps no sign of zero.
            assertThat(read.get(i) + 0.0)
                    .as("seed " + seed + ", " + RealLiteral.of(values.get(i)))
                    .isEqualTo(values.get(i) + 0.0);
        }
        long plain =
                values.stream().filter(v -> !RealLiteral.of(v).startsWith("(")).count();
        System.out.println(plain + " of " + values.size() + " are written as decimals");
    }
}
