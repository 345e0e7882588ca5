package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** Rules that are proposed by what a run found do, once they are taken in, just what was said of them. */
class ProposalTest {
    private static final int ROWS = 400;
    private static final int NOISE = 6;
    private static final List<String> COLUMNS =
            List.of("remark", "label", "note", "state", "level", "millis", "seen", "moment", "wild");
    private static final Map<String, String> WORDS = Map.of(
            "remark", "spaces: outer",
            "label", "case: ignore",
            "note", "empty-as-null: true",
            "state", "same-as: {",
            "level", "decimals: 2",
            "millis", "read: {source: \"millis * 1000\"}",
            "seen", "precision: minute",
            "moment", "zone: {");

    @TempDir
    Path folder;

    private static String text(LocalDateTime time) {
        return time.format(DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss", Locale.ROOT));
    }

    private static String quoted(String value) {
        return value == null ? "NULL" : "'" + value + "'";
    }

    private void fill(Database database, List<List<String>> rows) throws Exception {
        List<String> statements =
                new ArrayList<>(List.of("CREATE TABLE reading (id INTEGER PRIMARY KEY, remark VARCHAR(40),"
                        + " label VARCHAR(40), note VARCHAR(40), state VARCHAR(10), level DECIMAL(12, 4), millis BIGINT,"
                        + (database.kind().like() == Kind.MARIADB
                                ? " seen DATETIME, moment DATETIME,"
                                : " seen TIMESTAMP, moment TIMESTAMP,")
                        + " wild VARCHAR(20))"));
        for (List<String> row : rows) {
            statements.add("INSERT INTO reading VALUES ("
                    + String.join(", ", row.stream().map(ProposalTest::quoted).toList()) + ")");
        }
        database.execute(statements.toArray(String[]::new));
    }

    /** Values that were damaged, and not written otherwise, get no rule that would hide that. */
    @Test
    void damageGetsNoRule() throws Exception {
        for (int round = 0; round < 4; round++) {
            long seed = Seed.next();
            System.out.println("seed " + seed);
            Random random = new Random(seed);
            Path own = Files.createDirectory(folder.resolve("damage" + round));
            Database one = new Database(Kind.H2, own, "one");
            Database other = new Database(Kind.H2, own, "other");
            String table = "CREATE TABLE reading (id INTEGER PRIMARY KEY, level NUMERIC(12,4), near DOUBLE PRECISION,"
                    + " seen TIMESTAMP, millis INTEGER, word VARCHAR(20))";
            List<String> source = new ArrayList<>(List.of(table));
            List<String> target = new ArrayList<>(List.of(table));
            int damaged = 2 + random.nextInt(40);
            for (int id = 1; id <= 200; id++) {
                BigDecimal level = BigDecimal.valueOf(random.nextInt(90_000) - 45_000, 4);
                double near = random.nextDouble() - 0.5;
                LocalDateTime seen = LocalDateTime.of(2024, 1, 1, 0, 0).plusSeconds(random.nextInt(60_000_000));
                int millis = random.nextInt(1_000);
                String word = "w" + Integer.toString(random.nextInt(90_000), 36);
                source.add(row(id, level, near, seen, millis, word));
                boolean bad = id <= damaged;
                target.add(
                        bad
                                ? row(
                                        id,
                                        level.negate(),
                                        -near,
                                        seen.plusSeconds(1 + random.nextInt(20)),
                                        millis + 1 + random.nextInt(3),
                                        word + (char) ('a' + random.nextInt(20)))
                                : row(id, level, near, seen, millis, word));
            }
            one.execute(source.toArray(String[]::new));
            other.execute(target.toArray(String[]::new));
            Tool tool = new Tool(own);
            assertThat(tool.run("compare", one.address(), other.address()).code())
                    .isEqualTo(1);
            Tool.Result drafted = tool.run(
                    "draft", "--from-run", tool.latestRun().toString(), "--out", "proposed.yaml", "--format", "json");
            assertThat(drafted.json().get("proposals"))
                    .as("seed " + seed + drafted.all())
                    .isEmpty();
        }
    }

    private static String row(int id, BigDecimal level, double near, LocalDateTime seen, int millis, String word) {
        return "INSERT INTO reading VALUES (" + id + ", " + level + ", " + near + ", '" + text(seen) + "', " + millis
                + ", '" + word + "')";
    }

    @ParameterizedTest
    @CsvSource({"H2, POSTGRESQL", "POSTGRESQL, MARIADB", "H2, H2"})
    void whatIsProposedDoesWhatIsSaid(Kind from, Kind to) throws Exception {
        long seed = Seed.next();
        String story = "seed " + seed + " " + from + " " + to;
        System.out.println(story);
        Random random = new Random(seed);
        List<List<String>> source = new ArrayList<>();
        List<List<String>> target = new ArrayList<>();
        List<String> states = List.of("open", "shut", "lost", "new");
        List<String> called = List.of("1", "2", "3", "4");
        for (int id = 1; id <= ROWS; id++) {
            String word = Integer.toString(1_000 + random.nextInt(9_000), 36);
            BigDecimal level = BigDecimal.valueOf(random.nextInt(90_000_000) - 45_000_000, 4);
            LocalDateTime time = LocalDateTime.of(2024, 1, 1, 0, 0).plusSeconds(random.nextInt(60 * 60 * 24 * 700));
            int state = random.nextInt(states.size());
            int millis = 1 + random.nextInt(1_000_000);
            source.add(new ArrayList<>(java.util.Arrays.asList(
                    "" + id,
                    random.nextInt(3) == 0 ? word : word + "  ",
                    word + "Ab",
                    random.nextInt(2) == 0 ? "" : word,
                    states.get(state),
                    level.toPlainString(),
                    "" + millis,
                    text(time),
                    text(time),
                    word)));
            List<String> last = source.get(id - 1);
            target.add(new ArrayList<>(java.util.Arrays.asList(
                    "" + id,
                    word,
                    (word + "Ab").toUpperCase(Locale.ROOT),
                    last.get(3).isEmpty() ? null : word,
                    called.get(state),
                    level.setScale(2, RoundingMode.HALF_UP).toPlainString(),
                    "" + millis * 1_000L,
                    text(time.truncatedTo(ChronoUnit.MINUTES)),
                    text(time.atZone(ZoneId.of("Europe/Paris"))
                            .withZoneSameInstant(ZoneOffset.UTC)
                            .toLocalDateTime()),
                    Integer.toString(random.nextInt(900_000), 36))));
        }
        List<String> odd = java.util.Arrays.asList("??", "??", "??", "99", "777777.77", "-5", "1999-01-01 00:00:00");
        for (int column = 1; column <= 8; column++) {
            for (int i = 0; i < NOISE; i++) {
                int row = random.nextInt(ROWS);
                // Of each state some rows; a name that few of its rows have is not learnt.
                while (column == 4 && !source.get(row).get(4).equals(states.get(i % states.size()))) {
                    row = (row + 1) % ROWS;
                }
                target.get(row).set(column, odd.get(Math.min(column - 1, odd.size() - 1)));
            }
        }
        Database one = new Database(from, folder, "one");
        Database other = new Database(to, folder, "other");
        fill(one, source);
        fill(other, target);
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", one.address(), other.address()).code()).isEqualTo(1);
        Tool.Result drafted = tool.run(
                "draft", "--from-run", tool.latestRun().toString(), "--out", "proposed.yaml", "--format", "json");
        assertThat(drafted.code()).as(story + drafted.all()).isZero();
        String proposedFile = Files.readString(folder.resolve("proposed.yaml"));
        Map<String, String> entries = new HashMap<>();
        Map<String, Long> left = new HashMap<>();
        for (JsonNode proposal : drafted.json().get("proposals")) {
            String column = proposal.get("column").asText().toLowerCase(Locale.ROOT);
            String entry = proposal.get("entry").asText();
            assertThat(proposedFile).as(story).contains("#   " + entry + "\n");
            entries.putIfAbsent(column, entry);
            left.merge(
                    column,
                    proposal.get("of").asLong() - proposal.get("explains").asLong(),
                    (first, second) -> first);
        }
        WORDS.forEach((column, word) -> assertThat(
                        entries.getOrDefault(column, "none").toLowerCase(Locale.ROOT))
                .as(story + drafted.out() + column)
                .contains(word.replace("\"millis", from == Kind.H2 ? "\"\\\"millis\\\"" : "\"millis")));
        assertThat(entries.keySet()).as(story).doesNotContain("wild");

        // Nothing holds by itself; taken in, each does what was said of it.
        String again = tool.run("compare", "--job", "proposed.yaml", "--format", "json")
                .out();
        assertThat(again).contains("\"changed\" : " + ROWS);
        StringBuilder job = new StringBuilder("job: 1\nsource: \"" + one.address() + "\"\ntarget: \"" + other.address()
                + "\"\nmatches:\n  - source: reading\n    leave-out: [wild]\n    columns:\n");
        entries.forEach((column, entry) -> job.append("      ").append(entry).append('\n'));
        Files.writeString(folder.resolve("taken.yaml"), job);
        Tool.Result taken = tool.run("compare", "--job", "taken.yaml", "--format", "json");
        assertThat(taken.code()).as(job + taken.all()).isEqualTo(1);
        Map<String, Long> differing = new HashMap<>();
        for (JsonNode column : taken.json().at("/run/matches/0/differing")) {
            differing.put(
                    column.get("column").asText().toLowerCase(Locale.ROOT),
                    column.get("rows").asLong());
        }
        for (String column : COLUMNS) {
            if (entries.containsKey(column)) {
                assertThat(differing.getOrDefault(column, 0L))
                        .as(story + "\n" + column + "\n" + job + drafted.out())
                        .isEqualTo(left.get(column))
                        .isLessThanOrEqualTo(NOISE);
            }
        }
    }

    @Test
    void theJobFileGetsCommentsAndNothingElse() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        Database target = new Database(Kind.SQLITE, folder, "target");
        for (Database side : List.of(source, target)) {
            side.execute("CREATE TABLE reading (id INTEGER PRIMARY KEY, remark TEXT, hits INTEGER)");
        }
        for (int id = 1; id <= 60; id++) {
            source.execute("INSERT INTO reading VALUES (" + id + ", 'a" + id + " ', " + id * id % 97 + ")");
            target.execute("INSERT INTO reading VALUES (" + id + ", 'a" + id + "', " + id * id % 97 + ")");
        }
        String job = "job: 1\nsource: sqlite:source.db\ntarget: sqlite:target.db\nmatches:\n"
                + "  - source: reading   # ours\n    key: [id]\n# the end\n";
        Files.writeString(folder.resolve("job.yaml"), job);
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", "--job", "job.yaml").code()).isEqualTo(1);
        Tool.Result drafted = tool.run("draft", "--from-run", tool.latestRun().toString());
        assertThat(drafted.code()).as(drafted.all()).isZero();
        assertThat(drafted.out()).contains("60 of 60", "{source: remark, target: remark, spaces: outer}");
        String after = Files.readString(folder.resolve("job.yaml"));
        assertThat(after.lines().filter(line -> !line.strip().startsWith("#") || line.equals("# the end")))
                .containsExactlyElementsOf(job.lines().toList());
        assertThat(after).contains("hides  1: 'a1 ' / 'a1'");
        tool.run("draft", "--from-run", tool.latestRun().toString());
        assertThat(Files.readString(folder.resolve("job.yaml"))).as("again").isEqualTo(after);
        // What no rule explains is left out at most.
        target.execute("UPDATE reading SET remark = remark || ' '", "UPDATE reading SET hits = abs(random() % 100000)");
        assertThat(tool.run("compare", "--job", "job.yaml").code()).isEqualTo(1);
        assertThat(tool.run("draft", "--from-run", tool.latestRun().toString()).out())
                .contains("reading.hits", "leave-out: [hits]")
                .doesNotContain("{source: hits");
        source.execute("DELETE FROM reading WHERE id > 3");
        target.execute("DELETE FROM reading WHERE id > 3");
        assertThat(tool.run("compare", "--job", "job.yaml").code()).isEqualTo(1);
        assertThat(tool.run("draft", "--from-run", tool.latestRun().toString()).out())
                .contains("nothing was written");
    }
}
