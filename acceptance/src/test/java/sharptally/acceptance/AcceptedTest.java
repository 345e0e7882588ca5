package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import sharptally.acceptance.Database.Kind;

/** What is accepted is told apart, found by whatever chooses it, and by nothing else: held against a model of plain maps. */
@InTurn(2)
class AcceptedTest {
    private static final List<String> COLUMNS = List.of("station", "millis", "remark");
    private static final LocalDate TODAY = LocalDate.now(Clock.systemUTC());

    @TempDir
    Path folder;

    /** A row that differs; a side that has none is empty. */
    private record Differing(int id, List<String> source, List<String> target) {
        String kind() {
            return target.isEmpty() ? "missing" : source.isEmpty() ? "extra" : "changed";
        }

        Set<String> columns() {
            Set<String> differing = new TreeSet<>();
            for (int i = 0; i < COLUMNS.size() && kind().equals("changed"); i++) {
                if (!source.get(i).equals(target.get(i))) {
                    differing.add(COLUMNS.get(i));
                }
            }
            return differing;
        }
    }

    /** An entry as YAML, and what it means. */
    private record Entry(String yaml, Predicate<Differing> about, Set<String> columns, boolean past) {}

    private static List<String> row(Random random) {
        return new ArrayList<>(List.of(
                "S" + random.nextInt(6), "" + random.nextInt(5_000), random.nextInt(4) == 0 ? "gap" : "level at rest"));
    }

    private static Entry entry(Random random) {
        StringBuilder yaml = new StringBuilder("- table: " + (random.nextInt(3) == 0 ? "read*" : "reading") + "\n");
        Predicate<Differing> about = d -> true;
        Set<String> columns = new TreeSet<>();
        switch (random.nextInt(3)) {
            case 0 -> {
                String kind = List.of("missing", "extra", "changed").get(random.nextInt(3));
                yaml.append("    kind: ").append(kind).append('\n');
                about = about.and(d -> d.kind().equals(kind));
            }
            case 1 -> {
                COLUMNS.stream().filter(c -> random.nextBoolean()).forEach(columns::add);
                columns.add(COLUMNS.get(random.nextInt(3)));
                yaml.append("    column: ").append(columns).append('\n');
            }
            default -> yaml.append("");
        }
        switch (random.nextInt(4)) {
            case 0 -> {
                int low = random.nextInt(300);
                int high = low + random.nextInt(200);
                yaml.append("    key-range: " + low + ".." + high + "\n");
                about = about.and(d -> d.id >= low && d.id < high);
            }
            case 1 -> {
                String station = "S" + random.nextInt(6);
                yaml.append("    if: [\"station = '" + station + "'\", id > 20]\n");
                about = about.and(d -> d.id > 20
                        && (!d.source.isEmpty() && d.source.get(0).equals(station)
                                || !d.target.isEmpty() && d.target.get(0).equals(station)));
            }
            case 2 -> {
                Set<Integer> ids = new TreeSet<>();
                random.ints(60, 1, 320).forEach(ids::add);
                yaml.append("    row: " + ids + "\n");
                about = about.and(d -> ids.contains(d.id));
            }
            default -> yaml.append("");
        }
        boolean past = random.nextInt(5) == 0;
        yaml.append("    reason: known\n    owner: archive\n    until: ")
                .append(past ? TODAY.minusDays(1) : TODAY)
                .append('\n');
        return new Entry(yaml.toString(), about, columns, past);
    }

    private static boolean isAccepted(Differing row, List<Entry> entries) {
        Set<String> left = new HashSet<>(row.columns());
        for (Entry entry : entries) {
            if (!entry.past && entry.about.test(row)) {
                if (entry.columns.isEmpty()) {
                    return true;
                }
                left.removeAll(entry.columns);
            }
        }
        return row.kind().equals("changed") && left.isEmpty();
    }

    private static Set<Integer> ids(Tool.Result shown) throws Exception {
        Set<Integer> ids = new TreeSet<>();
        for (String line : shown.lines()) {
            ids.add(new ObjectMapper()
                    .readTree(line)
                    .get("key")
                    .elements()
                    .next()
                    .asInt());
        }
        return ids;
    }

    private static Set<Integer> ids(List<Differing> rows, Predicate<Differing> wanted) {
        Set<Integer> ids = new TreeSet<>();
        rows.stream().filter(wanted).forEach(d -> ids.add(d.id));
        return ids;
    }

    private void fill(Database database, Map<Integer, List<String>> rows) throws Exception {
        List<String> statements = new ArrayList<>(List.of("CREATE TABLE reading (id INTEGER PRIMARY KEY,"
                + " station VARCHAR(8), millis INTEGER, remark VARCHAR(40))"));
        rows.forEach((id, row) -> statements.add("INSERT INTO reading VALUES (" + id + ", '" + row.get(0) + "', "
                + row.get(1) + ", '" + row.get(2) + "')"));
        database.execute(statements.toArray(String[]::new));
    }

    @ParameterizedTest
    @CsvSource({"SQLITE, SQLITE, 6", "POSTGRESQL, MARIADB, 2", "H2, POSTGRESQL, 2"})
    void acceptedIsWhatTheEntriesSay(Kind from, Kind to, int rounds) throws Exception {
        for (int round = 0; round < rounds; round++) {
            long seed = Seed.next();
            Random random = new Random(seed);
            String story = "seed " + seed + " " + from + " " + to;
            System.out.println(story);
            Map<Integer, List<String>> before = new TreeMap<>();
            Map<Integer, List<String>> after = new TreeMap<>();
            List<Differing> rows = new ArrayList<>();
            for (int id = 1; id <= 300; id++) {
                List<String> row = row(random);
                List<String> other = new ArrayList<>(row);
                int fate = random.nextInt(6);
                if (fate == 1) {
                    other.clear();
                } else if (fate == 2) {
                    row.clear();
                    other = row(random);
                } else if (fate == 3) {
                    other = row(random);
                } else if (fate == 4) {
                    other.set(random.nextInt(3), "7");
                }
                if (!row.isEmpty()) {
                    before.put(id, row);
                }
                if (!other.isEmpty()) {
                    after.put(id, other);
                }
                if (!row.equals(other)) {
                    rows.add(new Differing(id, row, other));
                }
            }
            Path own = Files.createDirectory(folder.resolve("round" + round));
            Database source = new Database(from, own, "source" + round);
            Database target = new Database(to, own, "target" + round);
            fill(source, before);
            fill(target, after);
            List<Entry> entries = new ArrayList<>();
            for (int i = 0; i < 1 + random.nextInt(5); i++) {
                entries.add(entry(random));
            }
            StringBuilder yaml = new StringBuilder("accepted: 1\ndifferences:\n");
            entries.forEach(e -> yaml.append("  ").append(e.yaml));
            Files.writeString(own.resolve("accepted.yaml"), yaml);
            story += "\n" + yaml;
            Set<Integer> accepted = ids(rows, d -> isAccepted(d, entries));
            Set<Integer> others = ids(rows, d -> !accepted.contains(d.id));

            Tool tool = new Tool(own);
            Tool.Result compared = tool.run(
                    "compare", source.address(), target.address(), "--accepted", "accepted.yaml", "--format", "json");
            assertThat(compared.code()).as(story + compared.all()).isEqualTo(others.isEmpty() ? 0 : 1);
            JsonNode run = compared.json().get("run");
            assertThat(run.at("/matches/0/accepted").asInt()).as(story).isEqualTo(accepted.size());
            for (int i = 0; i < entries.size(); i++) {
                String state = run.at("/accepted/" + i + "/state").asText();
                assertThat(state.equals("past")).as(story + compared.all()).isEqualTo(entries.get(i).past);
            }
            assertThat(ids(tool.run("show", "--format", "jsonl"))).as(story).isEqualTo(others);
            assertThat(ids(tool.run("show", "--format", "jsonl", "--only-accepted")))
                    .as(story)
                    .isEqualTo(accepted);
            assertThat(ids(tool.run("show", "--format", "jsonl", "--with-accepted")))
                    .as(story)
                    .isEqualTo(ids(rows, d -> true));

            // Looked at again they are counted alike; what is carried over are the others; and then these alone are
            // left.
            assertThat(tool.run("recheck").code()).as(story).isEqualTo(others.isEmpty() ? 0 : 1);
            Tool.Result applied = tool.run("apply", "--yes");
            assertThat(applied.code()).as(story + applied.all()).isZero();
            if (!accepted.isEmpty() && !others.isEmpty()) {
                assertThat(applied.out())
                        .as(story)
                        .contains("left out on request: " + accepted.size()
                                + (accepted.size() == 1 ? " f" : " findings"));
                assertThat(tool.run("show", "--view", "result").out())
                        .as(story)
                        .contains("same but for " + accepted.size() + " accepted");
            }
            Tool.Result again = tool.run("compare", source.address(), target.address());
            assertThat(again.code()).as(story + again.all()).isEqualTo(accepted.isEmpty() ? 0 : 1);
            if (!accepted.isEmpty()) {
                assertThat(ids(tool.run("show", "--format", "jsonl"))).as(story).isEqualTo(accepted);
            }
        }
    }

    private Tool twoRows() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        Database target = new Database(Kind.SQLITE, folder, "target");
        Map<Integer, List<String>> rows = new TreeMap<>();
        for (int id = 1; id <= 100; id++) {
            rows.put(id, List.of("S" + id % 3, "" + id, "at rest  "));
        }
        fill(source, rows);
        rows.put(5, List.of("S2", "5", "at rest"));
        rows.put(6, List.of("S0", "600", "at rest"));
        rows.remove(50);
        fill(target, rows);
        return new Tool(folder);
    }

    private static final String[] COMPARE = {"compare", "sqlite:source.db", "sqlite:target.db"};

    private static String[] with(String... more) {
        List<String> all = new ArrayList<>(List.of(COMPARE));
        all.addAll(List.of(more));
        return all.toArray(String[]::new);
    }

    @Test
    void whatIsWrittenIsWhatWasChosen() throws Exception {
        Tool tool = twoRows();
        assertThat(tool.run(COMPARE).code()).isEqualTo(1);
        String[][] choices = {
            {"--table", "reading", "--cause", "trailing*"},
            {"--column", "millis"},
            {"--kind", "missing", "--if", "station = 'S2'"},
        };
        int[] findings = {1, 0, 1};
        for (int i = 0; i < choices.length; i++) {
            List<String> words = new ArrayList<>(List.of("show"));
            words.addAll(List.of(choices[i]));
            words.addAll(
                    List.of("--accept-into", "known.yaml", "--reason", "it's: \"known\" #1", "--until", "" + TODAY));
            Tool.Result written = tool.run(words.toArray(String[]::new));
            assertThat(written.code()).as(written.all()).isEqualTo(findings[i] == 0 ? 2 : 0);
            assertThat(written.all()).contains(findings[i] == 0 ? "none of the 1 findings" : "1 finding accepted");
        }
        Tool.Result most = tool.run(with("--accepted", "known.yaml"));
        assertThat(most.code()).as(most.all()).isEqualTo(1);
        assertThat(most.out()).contains("; of these 2 accepted").contains("it's: \"known\" #1");
        assertThat(tool.run("show", "--save-selection", "left.jsonl").out()).contains("1 finding");
        Files.writeString(
                folder.resolve("known.yaml"), Files.readString(folder.resolve("known.yaml")) + "  # and by hand:\n");
        assertThat(tool.run(
                                "show",
                                "--selection",
                                "left.jsonl",
                                "--accept-into",
                                "known.yaml",
                                "--reason",
                                "gauge 0",
                                "--owner",
                                "archive",
                                "--until",
                                "" + TODAY)
                        .all())
                .contains("1 finding accepted");
        assertThat(Files.readString(folder.resolve("known.yaml")))
                .contains("# and by hand:")
                .contains("row: ");
        Tool.Result all = tool.run(with("--accepted", "known.yaml", "--format", "json"));
        assertThat(all.code()).as(all.all()).isZero();
        assertThat(all.out()).contains("\"verdict\" : \"accepted\"");
        Tool.Result quiet = tool.run(with("--accepted", "known.yaml", "--quiet"));
        assertThat(quiet.out()).startsWith("same but for 3 accepted: every row of 1 table was compared, nothing else");
        assertThat(tool.run("history").out()).contains("accepted");
        assertThat(tool.run("recheck").code()).isZero();
        tool.run("report", "--out-folder", "page", "--format", "html,md");
        assertThat(Files.readString(folder.resolve("page/report.html"))).contains("Accepted for now", "gauge 0");
        assertThat(Files.readString(folder.resolve("page/report.md"))).contains("accepted for now", "gauge 0");
        assertThat(tool.run("show", "--view", "result", "--redact").out()).doesNotContain("gauge 0", "'S2'");
    }

    @Test
    void whatIsPastOrNotMetIsTold() throws Exception {
        Tool tool = twoRows();
        String entry = "  - {table: %s, reason: known, owner: archive, until: %s}\n";
        Files.writeString(
                folder.resolve("known.yaml"),
                "accepted: 1\ndifferences:\n" + entry.formatted("reading", TODAY.minusDays(1))
                        + entry.formatted("station", TODAY)
                        + "  - {table: reading, kind: extra, reason: known, owner: archive, until: " + TODAY + "}\n");
        Tool.Result past = tool.run(with("--accepted", "known.yaml"));
        assertThat(past.code()).as(past.all()).isEqualTo(1);
        assertThat(past.out())
                .containsPattern("reading +3 .*past")
                .containsPattern("station +0 .*not looked at")
                .containsPattern("reading +0 .*kind extra.*not met");
        // A run that is resumed goes by the file that it began with.
        Files.writeString(
                folder.resolve("known.yaml"), "accepted: 1\ndifferences:\n" + entry.formatted("reading", TODAY));
        assertThat(tool.run(with("--accepted", "known.yaml", "--stop-after-findings", "1"))
                        .code())
                .isEqualTo(5);
        String run = tool.latestRun().toString();
        Files.delete(folder.resolve("known.yaml"));
        Tool.Result resumed = tool.run("compare", "--resume", run);
        assertThat(resumed.code()).as(resumed.all()).isZero();
        assertThat(resumed.out()).contains("same but for 3 accepted");
    }

    /** Of equal rows without a key several are one finding: however many are accepted, another that is left is told. */
    @Test
    void manyAcceptedRowsHideNoOther() throws Exception {
        Database source = new Database(Kind.SQLITE, folder, "source");
        Database target = new Database(Kind.SQLITE, folder, "target");
        for (Database side : List.of(source, target)) {
            side.execute("CREATE TABLE reading (station TEXT)", "INSERT INTO reading VALUES ('S1')");
        }
        source.execute("INSERT INTO reading VALUES ('S8'), ('S8'), ('S8'), ('S8'), ('S8'), ('S9')");
        Files.writeString(
                folder.resolve("known.yaml"),
                "accepted: 1\ndifferences:\n  - {table: reading, if: station = 'S8', reason: known, owner: a, until: "
                        + TODAY + "}\n");
        Tool tool = new Tool(folder);
        Tool.Result compared = tool.run(with("--accepted", "known.yaml"));
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(compared.out()).contains("6 missing, 0 extra; of these 5 accepted");
        Tool.Result again = tool.run("recheck", "--quiet");
        assertThat(again.code()).as(again.all()).isEqualTo(1);
        assertThat(tool.run("recheck").out()).contains("next  ");
        target.execute("INSERT INTO reading VALUES ('S9')");
        assertThat(tool.run("recheck").code()).isZero();
    }

    @Test
    void allowancesDecideTheExitCode() throws Exception {
        Tool tool = twoRows();
        String[][] cases = {
            {"3", "0"}, {"2 rows", "1"}, {"3%", "0"}, {"2.99%", "1"}, {"0", "1"}, {"100%", "0"},
        };
        for (String[] one : cases) {
            Files.writeString(
                    folder.resolve("job.yaml"),
                    "job: 1\nsource: sqlite:source.db\ntarget: sqlite:target.db\ndefaults: {at-most: " + one[0]
                            + "}\nmatches: [{source: reading}]\n");
            Tool.Result compared = tool.run("compare", "--job", "job.yaml");
            assertThat(compared.code()).as(one[0] + compared.all()).isEqualTo(Integer.parseInt(one[1]));
            assertThat(compared.out()).contains("2 changed, 1 missing, 0 extra");
            assertThat(compared.out().contains("different, but no more than allowed"))
                    .isEqualTo(compared.code() == 0);
            assertThat(tool.run("recheck").code()).isEqualTo(compared.code());
            assertThat(tool.run(
                                    "compare",
                                    "--job",
                                    tool.latestRun().resolve("job.yaml").toString())
                            .code())
                    .as("resolved")
                    .isEqualTo(compared.code());
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{table: reading, owner: a, until: 2999-01-01} | the key reason is missing here",
                "{table: reading, reason: '', owner: a, until: 2999-01-01} | the reason is empty",
                "{table: reading, reason: b, owner: a, until: soon} | line 3, column 50: until should be a day",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, colum: x} | no such key: colum; did you mean column",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, kind: lost} | no such kind: lost",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, column: x} | no such column among the compared ones: x, in known.yaml, line 3",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, if: millis > many} | not a value of column millis: many, in known.yaml, line 3",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, if: millis is many} | not a condition: millis is many",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, key-range: a..b} | line 3",
                "{table: reading, reason: b, owner: a, until: 2999-01-01, kind: extra, column: remark} | only changed rows have columns",
                "reading | here should be a mapping with table",
                "{table: reading | not YAML",
            })
    void whatIsWrongIsToldBefore(String entry, String told) throws Exception {
        Tool tool = twoRows();
        Files.writeString(folder.resolve("known.yaml"), "accepted: 1\ndifferences:\n  - " + entry + "\n");
        Tool.Result compared = tool.run(with("--accepted", "known.yaml"));
        assertThat(compared.code()).as(compared.all()).isEqualTo(2);
        assertThat(compared.err()).contains(told);
        assertThat(folder.resolve("sharp-tally-runs")).doesNotExist();
        assertThat(tool.run(with("--accepted", "none.yaml")).err()).contains("no such file of accepted differences");
    }
}
