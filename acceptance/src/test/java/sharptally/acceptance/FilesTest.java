package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.TextNode;
import com.github.luben.zstd.ZstdOutputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorOutputStream;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/** Files that databases wrote themselves are held against databases: only what was edited differs, and its line is told. */
@InTurn(3)
class FilesTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    Path folder;

    static Stream<Arguments> pairs() {
        // Each writer once, and each target once.
        List<Kind> kinds = List.of(Kind.SQLITE, Kind.H2, Kind.DUCKDB, Kind.POSTGRESQL, Kind.MARIADB);
        return IntStream.range(0, kinds.size() * 2)
                .mapToObj(i -> Arguments.of(kinds.get(i % kinds.size()), kinds.get((i + 3 + i / 5) % kinds.size())));
    }

    @ParameterizedTest
    @MethodSource("pairs")
    void findsExactlyTheEditsAndMendsThem(Kind writer, Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        RandomTable table = new RandomTable(random);
        // SQLite's client writes fifteen digits of a floating number, and no form of it all of them.
        while (table.key.isEmpty()
                || table.columns.size() < 3
                || writer == Kind.SQLITE && table.types.contains(RandomTable.Type.DOUBLE)) {
            table = new RandomTable(random);
        }
        String story = "seed " + seed + " " + writer + " " + kind + " " + table;
        System.out.println(story);
        Database source = new Database(writer, folder, "source");
        Database target = new Database(kind, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        Exported exported = new Exported(source, table, folder);
        List<String> files = new ArrayList<>(List.of(exported.write("rows")));
        if (writer == Kind.POSTGRESQL) {
            files.add(exported.write("rows", "tsv"));
            files.add(exported.write("rows", "jsonl"));
        }
        boolean differs = !table.expected.isEmpty();
        for (String file : files) {
            List<String> command = new ArrayList<>(List.of("compare", file, target.address() + "#t"));
            for (int c : table.key) {
                command.addAll(List.of("--key", table.columns.get(c)));
            }
            Tool tool = new Tool(folder);
            Tool.Result compared = tool.run(command.toArray(new String[0]));
            assertThat(compared.code()).as(story + "\n" + compared.all()).isEqualTo(differs ? 1 : 0);
            String found = tool.run("show", "--format", "jsonl").out();
            assertThat(new TreeMap<>(findings(found, table)))
                    .as(story + "\n" + compared.all())
                    .isEqualTo(new TreeMap<>(table.expected));
            if (file.startsWith("csv:")) {
                positionsAreRight(found, table, folder.resolve("rows.csv"), story);
            }
            // The other way round, nothing else differs.
            command.set(1, command.get(2));
            command.set(2, file);
            Tool.Result reversed = tool.run(command.toArray(new String[0]));
            assertThat(reversed.code()).as(story + "\n" + reversed.all()).isEqualTo(differs ? 1 : 0);
            assertThat(findings(tool.run("show", "--format", "jsonl").out(), table))
                    .hasSameSizeAs(table.expected);
            if (file.equals(files.get(files.size() - 1)) && differs) {
                command.set(2, command.get(1));
                command.set(1, file);
                tool.run(command.toArray(new String[0]));
                Tool.Result applied = tool.run("apply", "--yes");
                assertThat(applied.code()).as(story + "\n" + applied.all()).isZero();
                Tool.Result again = tool.run(command.toArray(new String[0]));
                assertThat(again.code()).as(story + "\n" + again.all()).isZero();
            }
        }
    }

    static Map<String, Set<String>> findings(String lines, RandomTable table) throws IOException {
        return FoundRows.of(
                        lines,
                        table.key.stream().map(table.columns::get).toList(),
                        (i, value) -> plain(value, table.types.get(table.key.get(i))))
                .byKey();
    }

    /** A key's value as {@link RandomTable#plain} writes it, from a file or a database. */
    private static String plain(JsonNode value, RandomTable.Type type) {
        String text = FoundRows.bare(value);
        return switch (type) {
            case DECIMAL -> RandomTable.plain(new BigDecimal(text));
            case BYTES ->
                RandomTable.plain(
                        value.isObject()
                                ? Base64.getDecoder().decode(text)
                                : HexFormat.of().parseHex(text.replace("\\x", "")));
            case TIMESTAMP -> RandomTable.plain(java.time.LocalDateTime.parse(text.replace(' ', 'T')));
            default -> text;
        };
    }

    /** By a reader of our own, which looks at each letter of the file. */
    private static void positionsAreRight(String found, RandomTable table, Path csv, String story) throws IOException {
        Map<List<String>, Long> lines = new LinkedHashMap<>();
        List<String> fields = new ArrayList<>();
        StringBuilder field = new StringBuilder();
        long line = 1;
        long begin = 1;
        boolean quoted = false;
        for (char c : Files.readString(csv).toCharArray()) {
            line += c == '\n' ? 1 : 0;
            if (c == '"') {
                quoted = !quoted;
            }
            if (quoted || c != ',' && c != '\n') {
                field.append(c);
                continue;
            }
            fields.add(field.toString());
            field.setLength(0);
            if (c == '\n') {
                if (begin > 1) {
                    lines.put(
                            table.key.stream()
                                    .map(i -> plain(TextNode.valueOf(bare(fields.get(i))), table.types.get(i)))
                                    .toList(),
                            begin);
                }
                fields.clear();
                begin = line;
            }
        }
        for (String each : found.split("\n")) {
            JsonNode finding = each.isEmpty() ? JSON.createObjectNode() : JSON.readTree(each);
            if (finding.path("kind").asText().matches("missing|changed")) {
                List<String> key = table.key.stream()
                        .map(c -> plain(finding.path("key").path(table.columns.get(c)), table.types.get(c)))
                        .toList();
                assertThat(finding.path("at").path("source").asText())
                        .as(story + " " + finding)
                        .isEqualTo("rows.csv:" + lines.get(key));
            }
        }
    }

    private static String bare(String field) {
        String text = field.endsWith("\r") ? field.substring(0, field.length() - 1) : field;
        return text.startsWith("\"") ? text.substring(1, text.length() - 1).replace("\"\"", "\"") : text;
    }

    @Test
    void partsPacksAndPipesAreTheSameRows() throws Exception {
        String rows = "id,name\n1,\"a,\n\"\"b\"\"\"\n2,\n3,\"\"\n4,é名\n";
        Tool tool = Tool.apart(folder);
        Files.writeString(folder.resolve("whole.csv"), rows);
        Files.createDirectory(folder.resolve("parts"));
        Files.writeString(folder.resolve("parts/a.csv"), "name;id\r\n\"\";3\r\né名;4\r\n");
        Files.writeString(folder.resolve("parts/b.csv"), "id,name\n2,\n1,\"a,\n\"\"b\"\"\"");
        Files.write(folder.resolve("marked.csv"), ("\uFEFF" + rows).getBytes(StandardCharsets.UTF_8));
        Files.write(folder.resolve("wide.csv"), ("\uFEFF" + rows).getBytes(StandardCharsets.UTF_16LE));
        Files.write(folder.resolve("bare.csv"), rows.getBytes(StandardCharsets.UTF_16BE));
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("packed.csv.gz")))) {
            out.write(rows.getBytes(StandardCharsets.UTF_8));
        }
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(folder.resolve("packed.csv.zip")))) {
            out.putNextEntry(new ZipEntry("rows.csv"));
            out.write(rows.getBytes(StandardCharsets.UTF_8));
        }
        try (OutputStream out = new ZstdOutputStream(Files.newOutputStream(folder.resolve("packed.csv.zst")))) {
            out.write(rows.getBytes(StandardCharsets.UTF_8));
        }
        try (OutputStream out =
                new BZip2CompressorOutputStream(Files.newOutputStream(folder.resolve("packed.csv.bz2")))) {
            out.write(rows.getBytes(StandardCharsets.UTF_8));
        }
        try (Workbook book = new Workbook(Files.newOutputStream(folder.resolve("a.xlsx")), "test", "1.0")) {
            Worksheet other = book.newWorksheet("notes");
            other.value(0, 0, "nothing");
            Worksheet sheet = book.newWorksheet("rows");
            sheet.value(0, 0, "name");
            sheet.value(0, 1, "id");
            for (int row = 1; row <= 4; row++) {
                sheet.value(row + 1, 1, row);
            }
            sheet.value(2, 0, "a,\n\"b\"");
            sheet.value(5, 0, "é名");
        }
        Files.writeString(folder.resolve("nulls.csv"), rows.replace("3,\"\"\n", "3,\n"));
        Tool.Result booked = tool.run("compare", "csv:nulls.csv", "xlsx:a.xlsx?sheet=rows", "--key", "id");
        assertThat(booked.code()).as(booked.all()).isZero();
        assertThat(tool.run("survey", "xlsx:a.xlsx?sheet=nosuch").all()).contains("there are: notes, rows");
        Files.writeString(folder.resolve("a.tsv"), "id\tname\n1\ta,\\n\"b\"\n2\t\\N\n3\t\n4\té名\n");
        Files.writeString(
                folder.resolve("a.json"),
                "[{\"id\": 1, \"name\": \"a,\\n\\\"b\\\"\"}, {\"id\": 2},\n {\"name\": \"\", \"id\": 3},"
                        + " {\"id\": 4, \"name\": \"é名\"}]");
        for (String other : List.of(
                "csv:parts/*.csv#whole",
                "csv:marked.csv",
                "csv:wide.csv",
                "csv:bare.csv",
                "csv:packed.csv.gz",
                "csv:packed.csv.zip",
                "csv:packed.csv.zst",
                "csv:packed.csv.bz2",
                "tsv:a.tsv",
                "jsonl:a.json")) {
            Tool.Result result = tool.run("compare", "csv:whole.csv", other, "--key", "id");
            assertThat(result.code()).as(other + "\n" + result.all()).isZero();
            assertThat(result.out()).as(other).containsPattern(" 4 +4 +4 +0 +0 +0 ");
            assertThat(tool.run("compare", "csv:whole.csv", other).code())
                    .as(other)
                    .isZero();
        }
        Tool.Result piped = tool.runWithInput(rows, "compare", "csv:-", "csv:whole.csv", "--key", "id");
        assertThat(piped.code()).as(piped.all()).isZero();
        Tool.Result surveyed = tool.run("survey", "csv:parts");
        assertThat(surveyed.out()).contains("semicolon", "UTF-8", "a ", "b ");
    }

    @Test
    void whatIsNoFileOfRowsIsSaidInOneLine() throws Exception {
        Files.writeString(folder.resolve("good.csv"), "id,name\n1,a\n");
        Map<String, Object> bad = new LinkedHashMap<>();
        bad.put("ragged.csv 3: ragged.csv:3", "id,name\n1,a\n2,b,c\n");
        bad.put("open.csv 3: open.csv:3", "id,name\n1,a\n2,\"b\n3,c\n");
        bad.put("after.csv 3: after.csv:2", "id,name\n1,\"a\"b\n");
        bad.put("twice.csv 3: called ID", "id,name,ID\n1,a,1\n");
        bad.put("unnamed.csv 3: column 2 has no name", "id,\n1,a\n");
        bad.put("empty.csv 3: the file is empty", "");
        bad.put("headless.csv 2: ?header=no", "1,2\n3,4\n");
        bad.put("late.csv?encoding=utf-8 3: UTF-8", "id,name\n1,caf\u00E9\n".getBytes(StandardCharsets.ISO_8859_1));
        bad.put("neither.csv 3: ?encoding=", new byte[] {'i', 'd', '\n', (byte) 0x81, (byte) 0x8D, '\n'});
        bad.put("cut.csv.gz 3: ends too early", cut(gzip("id,name\n" + "1,abcdefg\n".repeat(90_000))));
        bad.put("plain.csv.gz 3: can't be unpacked", "id,name\n1,a\n");
        bad.put("bomb.csv.gz 3: times its size", gzip("id,name\n" + "\n".repeat(300 << 20)));
        bad.put("long.csv 3: more than", "id,name\n1," + "x".repeat(40_000_000) + "\n");
        bad.put("good.csv?delimeter=; 2: did you mean delimiter?", "id,name\n1,a\n");
        bad.put("good.csv?encoding=klingon 2: no such encoding", "id,name\n1,a\n");
        bad.put("nosuch.csv 3: no such file", new byte[0]);
        Tool tool = new Tool(folder);
        for (Map.Entry<String, Object> each : bad.entrySet()) {
            String[] said = each.getKey().split(" ", 3);
            String name = said[0].replaceAll("\\?.*", "");
            if (!name.equals("nosuch.csv")) {
                Files.write(
                        folder.resolve(name),
                        each.getValue() instanceof byte[] bytes
                                ? bytes
                                : each.getValue().toString().getBytes(StandardCharsets.UTF_8));
            }
            Tool.Result result = tool.run("compare", "csv:" + said[0], "csv:good.csv");
            assertThat(result.code() + ": " + result.all())
                    .as(each.getKey())
                    .startsWith(said[1])
                    .contains(said[2]);
            assertThat(result.out()).as(each.getKey()).doesNotContain("same:");
            assertThat(result.err()
                            .lines()
                            .filter(l -> !l.startsWith("sharp-tally: not completed"))
                            .count())
                    .as(result.all())
                    .isLessThanOrEqualTo(1);
        }
        Files.writeString(folder.resolve("two.csv"), "id,name\n1,a\n2,b,c\n3\n4,d\n");
        Files.writeString(folder.resolve("rest.csv"), "id,name\n1,a\n4,d\n");
        Tool.Result passed = tool.run("compare", "csv:two.csv", "csv:rest.csv", "--key", "id", "--allow-broken", "2");
        assertThat(passed.all())
                .startsWith("exit 5")
                .contains("NOT COMPARED: 2 broken records of the source", "two.csv:3 has 3 fields", "two.csv:4")
                .doesNotContain("same:");
        assertThat(tool.run("compare", "csv:two.csv", "csv:rest.csv", "--allow-broken", "1")
                        .all())
                .startsWith("exit 3")
                .contains("two.csv:4");
        Files.writeString(
                folder.resolve("asked.yaml"),
                "job: 1\nsource: 'csv:two.csv?allow-broken=2'\ntarget: 'csv:rest.csv'\nmatches:\n"
                        + "  - {name: asked, source: {query: SELECT * FROM two}, target: rest, key: [id]}\n");
        assertThat(tool.run("compare", "--job", "asked.yaml").all())
                .startsWith("exit 5")
                .contains("2 broken records of the source");
        assertThat(tool.run("totals", "csv:two.csv?allow-broken=2", "csv:rest.csv")
                        .all())
                .startsWith("exit 5")
                .contains("two.csv:3");
        assertThat(tool.run("checksum", "csv:two.csv?allow-broken=2", "--key", "id", "--out", "sums.json")
                        .all())
                .startsWith("exit 5")
                .contains("two.csv:3");
        Files.createSymbolicLink(folder.resolve("link.csv"), folder.resolve("good.csv"));
        assertThat(tool.run("compare", "csv:.", "csv:.").all()).contains("link.csv", "a link");
        assertThat(tool.run("compare", "csv:good.csv", "csv:good.csv", "--where", "nosuch > 1")
                        .all())
                .startsWith("exit 2")
                .contains("nosuch");
    }

    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL"})
    void aFileThatChangesMeanwhileIsNoProof(Kind kind) throws Exception {
        Database target = new Database(kind, folder, "target");
        target.execute(
                "CREATE TABLE rows (id int PRIMARY KEY, name text)",
                "INSERT INTO rows SELECT i, 'gauge ' || i FROM generate_series(1, 300000) i");
        Path csv = folder.resolve("rows.csv");
        try (var out = Files.newBufferedWriter(csv)) {
            out.write("id,name\n");
            for (int i = 1; i <= 300_000; i++) {
                out.write(i + ",gauge " + i + "\n");
            }
        }
        Tool tool = Tool.apart(folder);
        Thread grows = new Thread(() -> {
            try {
                while (!Thread.interrupted()) {
                    Files.setLastModifiedTime(
                            csv, java.nio.file.attribute.FileTime.fromMillis(System.nanoTime() / 1000));
                    Thread.sleep(20);
                }
            } catch (IOException | InterruptedException e) {
                return;
            }
        });
        grows.start();
        Tool.Result result = tool.run("compare", "csv:rows.csv", target.address() + "#rows");
        grows.interrupt();
        grows.join();
        assertThat(result.code()).as(result.all()).isEqualTo(3);
        assertThat(result.all()).contains("changed while it was read").doesNotContain("same:");
    }

    private static byte[] gzip(String text) throws IOException {
        return gzip(text.getBytes(StandardCharsets.UTF_8));
    }

    private static byte[] gzip(byte[] bytes) throws IOException {
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (OutputStream out = new GZIPOutputStream(packed)) {
            out.write(bytes);
        }
        return packed.toByteArray();
    }

    private static byte[] cut(byte[] bytes) {
        return java.util.Arrays.copyOf(bytes, bytes.length * 2 / 3);
    }
}
