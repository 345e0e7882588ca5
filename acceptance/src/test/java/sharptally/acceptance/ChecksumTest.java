package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** The checksum command: every engine works out the vectors of the docs, and files tell ranges apart across engines. */
class ChecksumTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    Path folder;

    /** The table of the test vectors in docs/checksums.md. */
    private static void vectors(Database database) throws Exception {
        String[] types = switch (database.kind().like()) {
            case POSTGRESQL -> new String[] {"double precision", "timestamp(3)", "bytea", "'\\x00ff'", "''"};
            case MARIADB -> new String[] {"double", "datetime(3)", "varbinary(20)", "x'00ff'", "''"};
            case DUCKDB -> new String[] {"DOUBLE", "TIMESTAMP", "BLOB", "'\\x00\\xFF'::BLOB", "''::BLOB"};
            default -> new String[] {"DOUBLE PRECISION", "TIMESTAMP", "VARBINARY(20)", "x'00ff'", "x''"};
        };
        String raw = database.kind() == Database.Kind.SQLITE ? "BLOB" : types[2];
        database.execute(
                "CREATE TABLE v (id BIGINT PRIMARY KEY, level DECIMAL(10, 3), pressure " + types[0]
                        + ", remark VARCHAR(40), seen DATE, taken " + types[1] + ", raw " + raw + ")",
                "INSERT INTO v VALUES (1, 1.500, 0.1, 'Pegel \u03a9', '2026-11-23', '2026-11-23 06:00:00.250', "
                        + types[3] + ")",
                "INSERT INTO v VALUES (2, -3.000, -2.5, '', '1999-12-31', '1999-12-31 23:59:59.000', " + types[4] + ")",
                "INSERT INTO v VALUES (3, NULL, NULL, NULL, NULL, NULL, NULL)");
    }

    @ParameterizedTest
    @EnumSource
    void everyEngineWorksOutTheVectorsOfTheDocs(Database.Kind kind) throws Exception {
        Matcher documented = Pattern.compile("sum of all three: `([0-9a-f]{16})`")
                .matcher(Files.readString(Path.of("..", "docs", "checksums.md")));
        assertThat(documented.find()).isTrue();
        Database database = new Database(kind, folder, "vectors");
        vectors(database);
        Tool.Result summed = new Tool(folder).run("checksum", database.address() + "#v", "--format", "json");
        assertThat(summed.code()).as(summed.all()).isZero();
        JsonNode sum = summed.json().at("/here/sums/0");
        assertThat(sum.get("rows").asLong()).isEqualTo(3);
        assertThat(String.format("%016x", sum.get("sum").asLong()))
                .as(summed.all())
                .isEqualTo(documented.group(1));
    }

    @Test
    void randomRowsHaveOneChecksumInEveryEngine() throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Tool tool = new Tool(folder);
        Database first = new Database(Database.Kind.POSTGRESQL, folder, "random");
        fill(first, new Random(seed));
        tool.run("checksum", first.address() + "#m", "--range-rows", "100", "--out", "m.sums");
        for (Database.Kind kind : Database.Kind.values()) {
            Database other = new Database(kind, folder, "other");
            fill(other, new Random(seed));
            Tool.Result same = tool.run("checksum", other.address() + "#m", "--against", "m.sums");
            assertThat(same.code()).as("seed " + seed + " " + kind + same.all()).isZero();
        }
    }

    private static void fill(Database database, Random random) throws Exception {
        boolean maria = database.kind().like() == Database.Kind.MARIADB;
        String time = maria ? "datetime(6)" : "TIMESTAMP";
        String real = maria || database.kind() == Database.Kind.DUCKDB ? "double" : "double precision";
        database.execute("CREATE TABLE m (id BIGINT PRIMARY KEY, x " + real + ", n DECIMAL(18, 5), taken " + time
                + ", remark VARCHAR(60))");
        try (var connection = database.connect();
                var insert = connection.prepareStatement("INSERT INTO m VALUES (?, ?, ?, ?, ?)")) {
            connection.setAutoCommit(false);
            for (int i = 0; i < 600; i++) {
                double x = (random.nextDouble() - 0.5) * Math.pow(10, random.nextInt(16) - 2);
                var n = BigDecimal.valueOf(random.nextLong() % 1_000_000_000_000L, random.nextInt(6));
                var taken = LocalDateTime.of(1971, 1, 1, 0, 0)
                        .plusSeconds(random.nextInt(2_000_000_000))
                        .plusNanos(random.nextBoolean() ? 0 : random.nextInt(1_000_000) * 1_000L);
                insert.setLong(1, i * 7L - 1_000);
                insert.setDouble(2, Math.abs(x) < 0.001 ? 0 : x);
                if (database.kind() == Database.Kind.SQLITE) {
                    insert.setString(3, n.toPlainString());
                    insert.setString(4, taken.toString().replace('T', ' '));
                } else {
                    insert.setBigDecimal(3, n);
                    insert.setObject(4, taken);
                }
                insert.setString(5, random.nextInt(5) == 0 ? null : "sea|" + random.nextInt(100) + "~\u03a9 ");
                insert.addBatch();
            }
            insert.executeBatch();
            connection.commit();
        }
    }

    @Test
    void fileTellsDifferingRangesOfAnotherEngineAndTheirRowsCanBeCompared() throws Exception {
        Database source = new Database(Database.Kind.POSTGRESQL, folder, "here");
        Database target = new Database(Database.Kind.MARIADB, folder, "there");
        for (Database side : new Database[] {source, target}) {
            String time = side == source ? "timestamp(6)" : "datetime(6)";
            side.execute("CREATE TABLE log (gauge VARCHAR(20) NOT NULL, n INT NOT NULL, at " + time
                    + ", level DECIMAL(9, 3), PRIMARY KEY (gauge, n))");
            StringBuilder rows = new StringBuilder("INSERT INTO log VALUES ");
            for (int i = 0; i < 3_000; i++) {
                rows.append(i == 0 ? "" : ", ")
                        .append("('gauge ")
                        .append((char) ('A' + i % 7))
                        .append("', ")
                        .append(i / 7)
                        .append(", '2026-01-01 00:00:00.")
                        .append(i)
                        .append("', ")
                        .append(i / 1000.0)
                        .append(")");
            }
            side.execute(rows.toString());
        }
        target.execute(
                "UPDATE log SET level = 9 WHERE gauge = 'gauge C' AND n = 17",
                "DELETE FROM log WHERE gauge = 'gauge F' AND n = 200");
        Tool tool = new Tool(folder);
        Tool.Result made = tool.run("checksum", source.address() + "#log", "--range-rows", "100", "--out", "here.sums");
        assertThat(made.code()).as(made.all()).isZero();
        Tool.Result against = tool.run(
                "checksum",
                target.address() + "#log",
                "--against",
                "here.sums",
                "--out",
                "there.sums",
                "--export-rows",
                "there.db");
        assertThat(against.code()).as(against.all()).isEqualTo(1);
        assertThat(against.out()).contains("different: 2 of 30 ranges");
        Tool.Result back =
                tool.run("checksum", source.address() + "#log", "--against", "there.sums", "--export-rows", "here.db");
        assertThat(back.out()).contains("different: 2 of 30 ranges");
        Tool.Result compared = tool.run("compare", "sqlite:here.db", "sqlite:there.db");
        assertThat(compared.out()).as(compared.all()).contains("1 changed, 1 missing, 0 extra");

        Tool.Result same = tool.run("checksum", source.address() + "#log", "--against", "here.sums");
        assertThat(same.code()).as(same.all()).isZero();
        Path cut = folder.resolve("cut.sums");
        Files.writeString(cut, Files.readString(folder.resolve("here.sums")).substring(0, 3_000));
        Tool.Result damaged = tool.run("checksum", source.address() + "#log", "--against", "cut.sums");
        assertThat(damaged.code()).isEqualTo(2);
        assertThat(damaged.err()).contains("not a checksum file that can be used: cut.sums");
    }
}
