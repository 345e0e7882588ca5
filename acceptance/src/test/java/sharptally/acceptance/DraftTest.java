package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;

/**
 * Drafts of a schema that was renamed at random: nothing may be paired wrongly without a word of doubt, and most should
 * be paired rightly.
 */
class DraftTest {
    private static final String[] NOUNS = {
        "station", "gauge", "reading", "visit", "harbour", "battery", "company", "survey_line", "tide_event", "wave"
    };
    private static final String[] FIELDS = {
        "code", "label", "opened_on", "depth", "quality", "remark", "weight_kg", "owner_name", "taken_at", "level"
    };

    @TempDir
    Path folder;

    private final Map<String, String> tableOf = new HashMap<>();
    private final Map<String, Map<String, String>> columnOf = new HashMap<>();

    private static String renamed(String name, int how, Random random) {
        return switch (how) {
            case 0 -> name;
            case 1 -> name.toUpperCase();
            case 2 -> name.endsWith("y") ? name.substring(0, name.length() - 1) + "ies" : name + "s";
            case 3 -> name.replace("_", "");
            default -> "x" + (char) ('a' + random.nextInt(26)) + random.nextInt(1_000);
        };
    }

    /** Two databases of the same rows under different names; what was named how is kept. */
    private void schema(Random random, boolean telling) throws Exception {
        List<String> old = new ArrayList<>();
        List<String> fresh = new ArrayList<>();
        for (String noun : NOUNS) {
            String table = "tgs_" + renamed(noun, telling ? random.nextInt(4) : 4, random);
            tableOf.put(noun, table);
            Map<String, String> columns = new HashMap<>();
            columnOf.put(noun, columns);
            List<String> names = new ArrayList<>(List.of(FIELDS));
            Collections.shuffle(names, random);
            names = new ArrayList<>(names.subList(0, 6));
            names.add(0, "id");
            List<String> there = new ArrayList<>(names);
            Collections.shuffle(there, random);
            for (String name : names) {
                String other = renamed(name, telling ? random.nextInt(4) : 4, random);
                while (columns.containsValue(other)) {
                    other = renamed(name, 4, random);
                }
                columns.put(name, other);
            }
            old.add("CREATE TABLE " + noun + " (" + declared(names, Map.of()) + ")");
            fresh.add("CREATE TABLE " + table + " (" + declared(there, columns) + ")");
            for (int row = 0; row < 60; row++) {
                Map<String, String> values = new HashMap<>();
                for (String name : names) {
                    values.put(name, value(name, row, noun, random));
                }
                old.add("INSERT INTO " + noun + " VALUES ("
                        + String.join(", ", names.stream().map(values::get).toList()) + ")");
                fresh.add("INSERT INTO " + table + " VALUES ("
                        + String.join(", ", there.stream().map(values::get).toList()) + ")");
            }
        }
        Collections.shuffle(fresh.subList(0, 0), random);
        new Database(Kind.SQLITE, folder, "old").execute(old.toArray(new String[0]));
        new Database(Kind.H2, folder, "new").execute(fresh.toArray(new String[0]));
    }

    private static String declared(List<String> names, Map<String, String> columns) {
        return String.join(
                ", ",
                names.stream()
                        .map(n -> '"' + columns.getOrDefault(n, n) + "\" " + type(n)
                                + (n.equals("id") ? " PRIMARY KEY" : ""))
                        .toList());
    }

    private static String type(String name) {
        return switch (name) {
            case "id", "quality" -> "INTEGER";
            case "opened_on" -> "DATE";
            case "taken_at" -> "TIMESTAMP";
            case "depth", "weight_kg", "level" -> "DECIMAL(9,3)";
            default -> "VARCHAR(40)";
        };
    }

    private static String value(String name, int row, String table, Random random) {
        return switch (name) {
            case "id" -> String.valueOf(row + 1);
            case "quality" -> String.valueOf(random.nextInt(4));
            case "opened_on" ->
                "'20%02d-0%d-1%d'".formatted(random.nextInt(26), 1 + random.nextInt(9), random.nextInt(9));
            case "taken_at" ->
                "'2025-0%d-1%d 0%d:15:00'".formatted(1 + random.nextInt(9), random.nextInt(9), random.nextInt(9));
            case "depth", "weight_kg", "level" -> random.nextInt(500) + "." + (100 + random.nextInt(900));
            case "remark" -> random.nextInt(3) == 0 ? "NULL" : "'note " + random.nextInt(20) + "'";
            default -> "'" + table.charAt(0) + name.charAt(0) + random.nextInt(100_000) + "'";
        };
    }

    /** Columns paired rightly and wrongly without doubt, of those there are. */
    private int[] judge(String text, JobFile jobFile) {
        int right = 0;
        int wrong = 0;
        int all = 0;
        for (String noun : NOUNS) {
            String table = tableOf.get(noun);
            var match = jobFile.matches().stream()
                    .filter(m -> m.wish().source().name().equals(noun))
                    .findFirst();
            String block = match.isEmpty() ? "" : block(text, noun);
            boolean paired =
                    match.isPresent() && match.get().wish().target().name().equalsIgnoreCase(table);
            boolean doubtful = block.startsWith("# CHECK") || block.contains("\n# CHECK likely");
            if (match.isPresent() && !paired && !doubtful) {
                wrong++;
            }
            for (Map.Entry<String, String> column : columnOf.get(noun).entrySet()) {
                all++;
                if (!paired) {
                    continue;
                }
                String found = match.get().wish().columns().stream()
                        .filter(p -> p.source().equals(column.getKey()))
                        .map(p -> p.target())
                        .findFirst()
                        .orElse(column.getKey());
                if (found.equalsIgnoreCase(column.getValue())) {
                    right++;
                } else if (columnOf.get(noun).values().stream().anyMatch(found::equalsIgnoreCase)) {
                    String line = block.lines()
                            .filter(l -> l.contains("source: " + column.getKey() + ","))
                            .findFirst()
                            .orElse("");
                    wrong += line.contains("# CHECK") ? 0 : 1;
                }
            }
        }
        return new int[] {right, wrong, all};
    }

    /** The lines of one match, with the comments before it. */
    private static String block(String text, String source) {
        List<String> lines = text.lines().toList();
        int at = lines.indexOf("  - source: " + source);
        int from = at;
        while (from > 0 && lines.get(from - 1).startsWith("  # CHECK")) {
            from--;
        }
        int to = at + 1;
        while (to < lines.size() && lines.get(to).startsWith("    ")) {
            to++;
        }
        return String.join(
                "\n", lines.subList(from, to).stream().map(String::strip).toList());
    }

    @RepeatedTest(3)
    void renamedSchemasArePairedRightOrWithADoubt() throws Exception {
        for (boolean telling : new boolean[] {true, false}) {
            long seed = Seed.next();
            Path part = Files.createDirectories(folder.resolve("part" + telling));
            DraftTest round = new DraftTest();
            round.folder = part;
            round.schema(new Random(seed), telling);
            Tool.Result drafted = new Tool(part).run("draft", "sqlite:old.db", "h2:new", "--out", "s.yaml");
            assertThat(drafted.code()).as("seed " + seed + "\n" + drafted.all()).isZero();
            String text = Files.readString(part.resolve("s.yaml"));
            int[] judged = round.judge(
                    text, JobFileReader.read(part.resolve("s.yaml"), Map.of(), java.time.Clock.systemUTC()));
            System.out.println("draft, " + (telling ? "" : "no ") + "telling names, seed " + seed + ": " + judged[0]
                    + " of " + judged[2] + " columns paired rightly, " + judged[1] + " wrongly without doubt");
            assertThat(judged[1]).as("seed " + seed + "\n" + text).isZero();
            assertThat((double) judged[0] / judged[2])
                    .as("seed " + seed + "\n" + text)
                    .isGreaterThan(telling ? 0.97 : 0.9);
            Tool.Result compared = new Tool(part).run("compare", "--job", "s.yaml");
            assertThat(Set.of(0, 1)).as(compared.all()).contains(compared.code());
        }
    }

    @Test
    void updateKeepsEveryLetterAndAddsWhatIsNew() throws Exception {
        Database old = new Database(Kind.SQLITE, folder, "old")
                .execute(
                        "CREATE TABLE station (id INTEGER PRIMARY KEY, name TEXT, reg TEXT)",
                        "CREATE TABLE skipped (id INTEGER PRIMARY KEY)",
                        "CREATE TABLE twice (a INTEGER, b TEXT)",
                        "INSERT INTO twice VALUES (1, 'x'), (1, 'x'), (2, 'y')");
        Database fresh = new Database(Kind.SQLITE, folder, "new")
                .execute(
                        "CREATE TABLE station (id INTEGER PRIMARY KEY, name TEXT, region TEXT)",
                        "CREATE TABLE skipped (id INTEGER PRIMARY KEY)",
                        "CREATE TABLE twice (a INTEGER PRIMARY KEY, b TEXT)");
        Tool tool = new Tool(folder);
        assertThat(tool.run("draft", "sqlite:old.db", "sqlite:new.db", "--out", "s.yaml", "--editor-schema")
                        .out())
                .contains("twice: the key is not unique in the source: 1 in 2 rows")
                .contains("station.reg > region: likely at");
        assertThat(tool.run("draft", "sqlite:old.db", "sqlite:new.db", "--out", "s.yaml")
                        .code())
                .isEqualTo(4);
        assertThat(Files.readString(folder.resolve("job.schema.json"))).contains("\"leave-out-tables\"");
        String mine = """
                job: 1   # mine
                source: "sqlite:old.db"
                target: "sqlite:new.db"
                leave-out-tables: [skip*]
                matches:
                  # keep me
                  - source: station
                    columns:
                      - {source: reg, target: region}   # by hand
                  - {source: twice, key: a}
                # the end
                """;
        Files.writeString(folder.resolve("s.yaml"), mine);
        assertThat(tool.run("draft", "--update", "s.yaml").out())
                .contains("next  sharp-tally compare --job s.yaml")
                .doesNotContain("CHECK");
        assertThat(Files.readString(folder.resolve("s.yaml"))).isEqualTo(mine);
        old.execute(
                "ALTER TABLE station ADD COLUMN opened DATE",
                "ALTER TABLE station ADD COLUMN gone TEXT",
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, level REAL)");
        fresh.execute(
                "ALTER TABLE station ADD COLUMN station_opened DATE",
                "CREATE TABLE readings (id INTEGER PRIMARY KEY, level REAL)");
        Tool.Result updated = tool.run("draft", "--update", "s.yaml");
        assertThat(updated.code()).as(updated.all()).isZero();
        String now = Files.readString(folder.resolve("s.yaml"));
        assertThat(now.lines().toList()).containsSubsequence(mine.lines().toList());
        assertThat(now)
                .containsSubsequence(
                        "      - {source: reg, target: region}   # by hand\n",
                        "      - {source: opened, target: station_opened}\n",
                        "    # CHECK new in the source only, not compared: gone\n",
                        "  - {source: twice, key: a}\n",
                        "  - source: reading\n",
                        "    target: readings\n",
                        "# the end\n");
        tool.run("draft", "--update", "s.yaml");
        assertThat(Files.readString(folder.resolve("s.yaml")))
                .as("a second update adds nothing")
                .isEqualTo(now);
    }
}
