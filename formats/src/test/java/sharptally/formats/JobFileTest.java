package sharptally.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.fault.ToolException;
import sharptally.core.match.JobPlan;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.LeftOutColumns;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.formats.job.JobFile;
import sharptally.formats.job.JobFileReader;
import sharptally.formats.job.JobFileWriter;
import sharptally.formats.run.Json;

class JobFileTest {
    /** A job file that has every key and every rule. */
    private static final String WHOLE = """
            job: 1
            include: [base.yaml]
            source: "@archive"
            target: "h2:${HOME_DB:-new}$${x}"
            workers: 4
            record: "@metrics"
            leave-out-tables: ["*_old", log]
            defaults:
              leave-out: [loaded_at]
              rules: [{type: text, spaces: outer}, {column: "*_mm", within: 2%}]
              where: {target: "live = 1"}
              key: id
              totals: {of: all}
              expect: {source: rows > 0}
            matches:
              - name: levels
                source: {query: "SELECT 1 AS id"}
                target: level
                key: [id]
                keep: [loaded_at]
                totals: {of: [rows, sum], by: [a, "b:month"], columns: ["x*"], within: 1e-6}
                expect: ["rows >= 2", "nulls(a) = 0"]
              - source: station
                leave-out: [remark, "type:json"]
                where: id > 0
                columns:
                  - {source: a, target: b, within: 0.01, decimals: 2, read: {source: "a / 2"}}
                  - {source: c, target: c, within: 2 h, precision: minute, zone: {target: Europe/Oslo}}
                  - {source: d, case: ignore, unicode: NFC, spaces: any, empty-as-null: true, list: ";"}
                  - {source: e, same-as: {N: north, 7: "8", "-": ~}, json: true, clean: {pattern: "(\\\\d)x", with: "$1"}}
                rules: [{column: f, case: none}]
              - {source: "tgs_*", target: "*_new"}
            """;

    @TempDir
    Path folder;

    private JobFile read(String yaml) throws IOException {
        Files.writeString(
                folder.resolve("base.yaml"),
                "defaults:\n  leave-out: [made_by]\n  rules: [{type: double, within: 1e-9}]\n");
        Files.writeString(folder.resolve("s.yaml"), yaml);
        return JobFileReader.read(folder.resolve("s.yaml"), Map.of("HOME_DB", "there"), java.time.Clock.systemUTC());
    }

    @Test
    void everyKeyIsRead() throws IOException {
        JobFile jobFile = read(WHOLE);
        assertThat(jobFile.target()).isEqualTo("h2:there${x}");
        assertThat(jobFile.workers()).contains(4);
        assertThat(jobFile.matches()).hasSize(3);
        MatchRequest levels = jobFile.matches().get(0).wish();
        assertThat(levels.source().query()).contains("SELECT 1 AS id");
        assertThat(levels.leftOut().usually().toString()).contains("made_by", "loaded_at");
        assertThat(levels.rules()).hasSize(3);
        assertThat(levels.target().where()).contains("live = 1");
        assertThat(jobFile.matches().get(0).totals().orElseThrow().by()).hasSize(2);
        assertThat(jobFile.matches().get(0).expectTarget()).hasSize(2);
        assertThat(jobFile.matches().get(0).expectSource()).hasSize(1);
        MatchRequest station = jobFile.matches().get(1).wish();
        assertThat(station.source().where()).contains("id > 0");
        assertThat(station.source().computed()).containsEntry("a", "a / 2");
        assertThat(station.columns().stream().mapToInt(c -> c.rules().size()).sum())
                .isEqualTo(13);
    }

    @Test
    void allProblemsAreToldAtOnceWithLineColumnAndNearestWord() {
        assertThatThrownBy(() -> read("""
                        job: 2
                        source: a:b
                        targt: x
                        workers: lots
                        matches:
                          - source: s
                            colums: []
                            columns: [{source: a, within: near}, {target: b, zone: Mars/North, clean: {pattern: "("}}]
                            expect: [rows about 7]
                            totals: {of: summ}
                          - {target: t}
                          - {source: "a_*", target: b, name: c}
                          - source: {query: SELECT 1}
                        source: "${NOT_SET}"
                        """))
                .isInstanceOf(ToolException.class)
                .satisfies(e -> assertThat(e.getMessage().replace(folder + "/", ""))
                        .isEqualTo("""
                        15 problems
                          s.yaml, line 3, column 1: no such key: targt; did you mean target?
                          s.yaml, line 14, column 1: the key source stands twice
                          s.yaml, line 1, column 6: a job file must begin with 'job: 1'
                          s.yaml, line 14, column 9: the variable NOT_SET is not set; set it, or write a default: ${NOT_SET:-…}
                          s.yaml, line 4, column 10: workers should be a number from 1 to 99, not lots
                          s.yaml, line 7, column 5: no such key: colums; did you mean columns?
                          s.yaml, line 10, column 18: no such figure: summ; did you mean sum?
                          s.yaml, line 9, column 13: not an expectation: rows about 7; write one such as rows >= 1000 or nulls(name) = 0
                          s.yaml, line 8, column 35: within should be a number, a percentage, or a time such as 2 s, not near
                          s.yaml, line 8, column 60: zone should be a time zone such as Europe/Oslo or +01:00, not Mars/North
                          s.yaml, line 8, column 89: not a regular expression: Unclosed group
                          s.yaml, line 11, column 5: a match needs a source
                          s.yaml, line 12, column 38: a match of many tables can't have one name
                          s.yaml, line 13, column 5: a match with a query needs a name, by which its rows go
                          s.yaml, line 1, column 1: a job file needs a target; see docs/job-file.md""".stripIndent().strip()));
    }

    @Test
    void jobFilesThatIncludeEachOtherAreRefused() throws IOException {
        Files.writeString(folder.resolve("one.yaml"), "include: two.yaml\n");
        Files.writeString(folder.resolve("two.yaml"), "include: one.yaml\n");
        assertThatThrownBy(() -> read("job: 1\ninclude: [one.yaml, none.yaml]\nsource: a:b\ntarget: a:c\n"))
                .hasMessageContaining(
                        "job files include each other in a circle: s.yaml > one.yaml > two.yaml > one.yaml")
                .hasMessageContaining("no such file: " + folder.resolve("none.yaml"));
    }

    private static ColumnShape column(String name, Kind kind) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), true, Generation.NONE, Optional.empty());
    }

    @Test
    void resolvedJobFileAndStoredMatchSayTheSameAgain() throws IOException {
        List<ColumnShape> columns = List.of(
                column("id", Kind.INTEGER),
                column("a", Kind.DECIMAL),
                column("b", Kind.DECIMAL),
                column("c", Kind.TIMESTAMP),
                column("d", Kind.TEXT),
                column("e", Kind.TEXT),
                column("f", Kind.TEXT));
        TableShape table = new TableShape(TableName.of("sta tion"), false, columns, List.of(), List.of(), false)
                .and(new RowFilter.Condition("id > 0 ${"));
        MatchRequest wish = read(WHOLE).matches().get(1).wish();
        TableMatch match = MatchPlanner.plan(
                table.with(columns.get(1).computedBy("a", "a / 2")),
                table,
                new MatchRequest(
                        Optional.of("mine"),
                        wish.source(),
                        wish.target(),
                        List.of("id"),
                        wish.columns(),
                        LeftOutColumns.NONE,
                        wish.rules(),
                        false));
        assertThat(match.pairs().stream().mapToInt(p -> p.rules().size()).sum()).isGreaterThan(12);
        assertThat(Json.MAPPER.readValue(Json.MAPPER.writeValueAsString(match), TableMatch.class))
                .isEqualTo(match);
        JobFile again = read(JobFileWriter.resolved(
                "@archive", "h2:${x}", JobPlan.empty().with(List.of(match)), Optional.empty(), m -> Optional.empty()));
        assertThat(again.target()).isEqualTo("h2:${x}");
        MatchRequest resolved = again.matches().get(0).wish();
        TableMatch same = MatchPlanner.plan(table.with(columns.get(1).computedBy("a", "a / 2")), table, resolved);
        assertThat(same.pairs()).isEqualTo(match.pairs());
        assertThat(same.key()).isEqualTo(match.key());
        assertThat(resolved.source().where()).contains("id > 0 ${");
    }

    @Test
    void schemaKnowsTheSameWordsAsTheReader() throws IOException {
        JsonNode schema = new ObjectMapper().readTree(JobFileReader.schema());
        TreeSet<String> words = new TreeSet<>();
        words(schema, words);
        TreeSet<String> ofReader = new TreeSet<>();
        for (String part : List.of(
                "x: 1",
                "defaults: {x: 1}",
                "matches: [{x: 1}]",
                "matches: [{source: a, columns: [{x: 1}]}]",
                "matches: [{source: a, rules: [{x: 1}]}]",
                "matches: [{source: a, totals: {x: 1}}]")) {
            // Every unknown word is told with the nearest known one; all known ones are told for what is no mapping.
            String other = part.replace("{x: 1}", "7").replace("x: 1", "- 7");
            try {
                read(other.startsWith("-") ? other : "job: 1\nsource: a:b\ntarget: a:b\n" + other);
            } catch (ToolException e) {
                e.getMessage()
                        .lines()
                        .filter(l -> l.contains("should be a mapping with "))
                        .forEach(l -> ofReader.addAll(
                                List.of(l.substring(l.indexOf(" with ") + 6).split(", "))));
            }
        }
        assertThat(words).containsAll(ofReader);
        assertThat(ofReader).contains("include", "leave-out", "columns", "within", "clean", "column", "by");
    }

    private static void words(JsonNode node, TreeSet<String> into) {
        if (node.has("properties")) {
            node.get("properties").fieldNames().forEachRemaining(into::add);
        }
        for (Iterator<JsonNode> each = node.elements(); each.hasNext(); ) {
            words(each.next(), into);
        }
    }

    /** No input makes anything but a job file or one clear failure. */
    @Test
    void garbledJobFilesFailInWords() throws IOException {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("garbled job files, seed " + seed);
        Random random = new Random(seed);
        String letters = ":-[]{}\"'#&*!|>%@`\n\t ,?~0a\\$\u0000é";
        int read = 0;
        for (int round = 0; round < 1_000; round++) {
            StringBuilder yaml = new StringBuilder(WHOLE);
            for (int edit = random.nextInt(6); edit >= 0; edit--) {
                int at = random.nextInt(yaml.length());
                switch (random.nextInt(4)) {
                    case 0 -> yaml.setCharAt(at, letters.charAt(random.nextInt(letters.length())));
                    case 1 -> yaml.deleteCharAt(at);
                    case 2 -> yaml.insert(at, letters.charAt(random.nextInt(letters.length())));
                    default -> yaml.delete(at, Math.min(yaml.length(), at + random.nextInt(40)));
                }
            }
            try {
                read(yaml.toString());
                read++;
            } catch (ToolException e) {
                List<String> lines = new ArrayList<>(e.getMessage().lines().toList());
                assertThat(lines).as("seed " + seed).isNotEmpty().noneMatch(String::isBlank);
            } catch (RuntimeException e) {
                throw new AssertionError("seed " + seed + "\n" + yaml, e);
            }
        }
        assertThat(read).isPositive();
    }
}
