package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import sharptally.acceptance.Database.Kind;

/** A file that is fixed is the file that one gets by hand: lines that have nothing to do with it are the same bytes. */
class RewrittenTest {
    private static final String[] BITS = {
        "a", "b c", ",", ";", "\"", "''", "é", "名", "\n", "\r\n", "\t", "\\", "", "NULL"
    };

    @TempDir
    Path folder;

    /** How files are written, each by a writer of the test's own. */
    private record Form(String name, Charset charset, String end, boolean mark, boolean quoteAll, boolean sorted) {
        private String field(String value) {
            if (name.startsWith("t.tsv")) {
                return value == null
                        ? "\\N"
                        : value.replace("\\", "\\\\")
                                .replace("\t", "\\t")
                                .replace("\n", "\\n")
                                .replace("\r", "\\r");
            }
            if (value == null) {
                return "";
            }
            boolean needed = value.isEmpty() || value.matches("(?s).*[,\"\n\r].*");
            return quoteAll || needed ? '"' + value.replace("\"", "\"\"") + '"' : value;
        }

        String line(int id, String[] row) {
            if (name.startsWith("t.jsonl")) {
                StringBuilder line = new StringBuilder("{ \"id\" : " + id);
                for (int i = 0; i < row.length; i++) {
                    line.append(", \"c").append(i).append("\":").append(row[i] == null ? "null" : json(row[i]));
                }
                return line + " }";
            }
            StringBuilder line = new StringBuilder(String.valueOf(id));
            for (String value : row) {
                line.append(name.startsWith("t.tsv") ? '\t' : ',').append(field(value));
            }
            return line.toString();
        }

        private static String json(String text) {
            return '"'
                    + text.replace("\\", "\\\\")
                            .replace("\"", "\\\"")
                            .replace("\n", "\\n")
                            .replace("\r", "\\r")
                            .replace("\t", "\\t")
                    + '"';
        }

        byte[] bytes(List<String> lines, boolean endsOpen) throws IOException {
            String text = lines.stream().map(l -> l + end).collect(Collectors.joining());
            if (endsOpen) {
                text = text.substring(0, text.length() - end.length());
            }
            byte[] plain = ((mark ? "\uFEFF" : "") + text).getBytes(charset);
            if (!name.endsWith(".gz")) {
                return plain;
            }
            ByteArrayOutputStream packed = new ByteArrayOutputStream();
            try (GZIPOutputStream out = new GZIPOutputStream(packed)) {
                out.write(plain);
            }
            return packed.toByteArray();
        }

        byte[] unpacked(Path file) throws IOException {
            byte[] bytes = Files.readAllBytes(file);
            return name.endsWith(".gz")
                    ? new GZIPInputStream(new java.io.ByteArrayInputStream(bytes)).readAllBytes()
                    : bytes;
        }
    }

    private static String value(Random random) {
        if (random.nextInt(8) == 0) {
            return null;
        }
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(4); i >= 0; i--) {
            text.append(BITS[random.nextInt(BITS.length)]);
        }
        return text.toString();
    }

    @ParameterizedTest
    @ValueSource(strings = {"t.csv", "t.csv.gz", "t.tsv", "t.jsonl", "t.csv utf-16", "t.csv latin"})
    void isTheFileThatOneGetsByHand(String what) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        String name = what.replaceAll(" .*", "");
        boolean csv = name.startsWith("t.csv");
        Form form = new Form(
                name,
                what.endsWith("16")
                        ? StandardCharsets.UTF_16LE
                        : what.endsWith("latin") ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_8,
                csv && random.nextBoolean() ? "\r\n" : "\n",
                what.endsWith("16") || csv && !what.endsWith("latin") && random.nextBoolean(),
                csv && random.nextBoolean(),
                random.nextBoolean());
        String story = "seed " + seed + " " + what + " " + form;
        System.out.println(story);
        int columns = 1 + random.nextInt(4);
        Map<Integer, String[]> right = new TreeMap<>();
        List<String> held = new ArrayList<>();
        List<String> wanted = new ArrayList<>();
        List<Integer> appended = new ArrayList<>();
        String header = "id"
                + java.util.stream.IntStream.range(0, columns)
                        .mapToObj(i -> (name.startsWith("t.tsv") ? "\tc" : ",c") + i)
                        .collect(Collectors.joining());
        if (!name.startsWith("t.jsonl")) {
            held.add(header);
            wanted.add(header);
        }
        List<Integer> ids = new ArrayList<>();
        for (int id = 1; id <= 300; id++) {
            ids.add(id);
        }
        if (!form.sorted) {
            java.util.Collections.shuffle(ids, random);
        }
        int changes = 0;
        for (int id : ids) {
            String[] row = new String[columns];
            for (int i = 0; i < columns; i++) {
                do {
                    row[i] = value(random);
                } while (row[i] != null
                        && what.endsWith("latin")
                        && !StandardCharsets.ISO_8859_1.newEncoder().canEncode(row[i]));
            }
            int fate = random.nextInt(15);
            if (fate == 0) {
                changes++;
                held.add(form.line(id, row));
            } else if (fate == 1) {
                changes++;
                right.put(id, row);
                if (form.sorted) {
                    wanted.add(new Form(name, form.charset, form.end, form.mark, false, true).line(id, row));
                } else {
                    appended.add(id);
                }
            } else if (fate == 2) {
                changes++;
                right.put(id, row);
                String[] other = row.clone();
                int at = random.nextInt(columns);
                other[at] = row[at] == null ? "x" : row[at] + "y";
                held.add(form.line(id, other));
                // What is put in is quoted where it has to be, whatever the file does elsewhere.
                Form plain = new Form(name, form.charset, form.end, form.mark, false, true);
                String[] mixed = new String[columns];
                for (int i = 0; i < columns; i++) {
                    mixed[i] = i == at ? plain.field(row[i]) : form.field(row[i]);
                }
                wanted.add(
                        name.startsWith("t.jsonl")
                                ? form.line(id, row)
                                : id
                                        + (name.startsWith("t.tsv") ? "\t" : ",")
                                        + String.join(name.startsWith("t.tsv") ? "\t" : ",", mixed));
            } else {
                right.put(id, row);
                held.add(form.line(id, row));
                wanted.add(form.line(id, row));
            }
        }
        Form plain = new Form(name, form.charset, form.end, form.mark, false, true);
        appended.stream().sorted().forEach(id -> wanted.add(plain.line(id, right.get(id))));
        Path file = folder.resolve(name);
        byte[] before = form.bytes(held, false);
        Files.write(file, before);
        Database source = new Database(Kind.SQLITE, folder, "source");
        source.execute("CREATE TABLE t (id INTEGER PRIMARY KEY, "
                + java.util.stream.IntStream.range(0, columns)
                        .mapToObj(i -> "c" + i + " TEXT")
                        .collect(Collectors.joining(", "))
                + ")");
        try (var connection = source.connect();
                var insert = connection.prepareStatement("INSERT INTO t VALUES (?" + ", ?".repeat(columns) + ")")) {
            for (Map.Entry<Integer, String[]> row : right.entrySet()) {
                insert.setInt(1, row.getKey());
                for (int i = 0; i < columns; i++) {
                    insert.setString(i + 2, row.getValue()[i]);
                }
                insert.executeUpdate();
            }
        }
        Tool tool = new Tool(folder);
        String options = what.endsWith("latin") ? "?encoding=iso-8859-1" : "";
        Tool.Result compared = tool.run(
                "compare",
                source.address() + "#t",
                name.replaceAll("t\\.([a-z]+).*", "$1") + ":" + file + options,
                "--key",
                "id");
        assertThat(compared.code()).as(story + compared.all()).isEqualTo(changes == 0 ? 0 : 1);
        Tool.Result written =
                tool.run("script", "--out", folder.resolve("new/" + name).toString());
        if (changes > 0) {
            assertThat(written.code()).as(story + written.all()).isZero();
            String expected = wanted.stream().map(l -> l + form.end).collect(Collectors.joining());
            byte[] made = form.unpacked(folder.resolve("new/" + name));
            assertThat(lines(made, form))
                    .as(story)
                    .isEqualTo(lines(((form.mark ? "\uFEFF" : "") + expected).getBytes(form.charset), form));
        }
        assertThat(Files.readAllBytes(file)).as("the old file stays").isEqualTo(before);
    }

    /** JSON is written without blanks where a line is made anew. */
    private static String lines(byte[] bytes, Form form) {
        String text = new String(bytes, form.charset);
        return form.name.startsWith("t.jsonl")
                ? text.replace("{ \"id\" : ", "{\"id\":")
                        .replace(", \"c", ",\"c")
                        .replace(" }", "}")
                        .replaceAll(",\"c\\d\":null", "")
                : text;
    }

    @Test
    void whatMovedOnMeanwhileIsNotWritten() throws Exception {
        Files.writeString(folder.resolve("old.csv"), "id,a\n1,x\n2,y\n3,z\n");
        Files.writeString(folder.resolve("new.csv"), "id,a\n1,x\n2,Y\n4,z\n");
        Tool tool = new Tool(folder);
        tool.run("compare", "csv:old.csv", "csv:new.csv", "--key", "id");
        Files.writeString(folder.resolve("new.csv"), "id,a\n1,x\n2,!\n4,z\n");
        Tool.Result moved = tool.run("script");
        assertThat(moved.all()).startsWith("exit 4").contains("not as it was compared: a holds", "nothing was written");
        Files.writeString(folder.resolve("new.csv"), "id,a\n1,x\n2,Y\n3,z\n4,z\n");
        assertThat(tool.run("script").all()).startsWith("exit 4").contains("is there by now");
        Files.writeString(folder.resolve("new.csv"), "id,a\n1,x\n4,z\n");
        assertThat(tool.run("script").all()).startsWith("exit 4").contains("is not there");
        Files.writeString(folder.resolve("new.csv"), "id,a\n1,x\n2,Y\n4,z\n");
        assertThat(tool.run("script", "--out", "new.csv").all())
                .startsWith("exit 4")
                .contains("written over");
        assertThat(tool.run("script", "--style", "row").all()).startsWith("exit 2");
        // What the file's encoding lacks is not replaced by something else.
        Files.writeString(folder.resolve("wide.csv"), "id,a\n1,\u540D\n");
        Files.write(folder.resolve("narrow.csv"), "id,a\n1,\u00E9\n".getBytes(StandardCharsets.ISO_8859_1));
        tool.run("compare", "csv:wide.csv", "csv:narrow.csv?encoding=iso-8859-1", "--key", "id");
        assertThat(tool.run("script").all()).contains("can't be written in the encoding of this file, ISO-8859-1");
        tool.run("compare", "csv:old.csv", "csv:new.csv", "--key", "id");
        assertThat(folder.resolve("new.csv")).content().isEqualTo("id,a\n1,x\n2,Y\n4,z\n");
        assertThat(tool.run("script").all()).startsWith("exit 0");
        try (var files = Files.walk(folder)) {
            assertThat(files.filter(f -> f.toString().endsWith(".draft")).toList())
                    .isEmpty();
        }
    }

    @Test
    void parquetIsWrittenAnew() throws Exception {
        long seed = Seed.next();
        RandomTable table = new RandomTable(new Random(seed));
        while (table.key.isEmpty() || table.expected.isEmpty()) {
            table = new RandomTable(new Random(++seed));
        }
        String story = "seed " + seed + " " + table;
        System.out.println(story);
        Database source = new Database(Kind.POSTGRESQL, folder, "source");
        Database target = new Database(Kind.DUCKDB, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        target.execute("COPY t TO '" + folder.resolve("t.parquet") + "' (FORMAT parquet)");
        List<String> command =
                new ArrayList<>(List.of("compare", source.address() + "#t", "parquet:" + folder.resolve("t.parquet")));
        for (int c : table.key) {
            command.addAll(List.of("--key", table.columns.get(c)));
        }
        Tool tool = new Tool(folder);
        assertThat(tool.run(command.toArray(new String[0])).code()).as(story).isEqualTo(1);
        Tool.Result written =
                tool.run("script", "--out", folder.resolve("new.parquet").toString());
        assertThat(written.code()).as(story + written.all()).isZero();
        command.set(2, "parquet:" + folder.resolve("new.parquet"));
        Tool.Result again = tool.run(command.toArray(new String[0]));
        assertThat(again.code()).as(story + again.all()).isZero();
        assertThat(target.values("SELECT string_agg(column_type, ',') FROM (DESCRIBE SELECT * FROM '"
                        + folder.resolve("new.parquet") + "')"))
                .as(story)
                .isEqualTo(target.values("SELECT string_agg(column_type, ',') FROM (DESCRIBE SELECT * FROM '"
                        + folder.resolve("t.parquet") + "')"));
    }

    /** Held against its own side, what is written of a side is a part of it; and no row is missing from it. */
    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL", "MARIADB", "H2"})
    void rowsThatDifferAreWrittenWhole(Kind kind) throws Exception {
        long seed = Seed.next();
        RandomTable table = new RandomTable(new Random(seed));
        while (table.key.isEmpty() || table.expected.isEmpty() || table.columns.size() == table.key.size()) {
            table = new RandomTable(new Random(++seed));
        }
        String story = "seed " + seed + " " + kind + " " + table;
        System.out.println(story);
        Database source = new Database(kind, folder, "source");
        Database target = new Database(kind, folder, "target");
        table.create(source, table.source);
        table.create(target, table.target);
        List<String> key = new ArrayList<>();
        for (int c : table.key) {
            key.addAll(List.of("--key", table.columns.get(c)));
        }
        Tool tool = new Tool(folder);
        List<String> command = new ArrayList<>(
                List.of("compare", source.address() + "#t", target.address() + "#t", "--rows-out", "out"));
        command.addAll(key);
        Tool.Result compared = tool.run(command.toArray(new String[0]));
        assertThat(compared.code()).as(story + compared.all()).isEqualTo(1);
        for (String side : List.of("source", "target")) {
            long rows = table.expected.keySet().stream()
                    .filter(e -> e.startsWith("changed") || e.startsWith(side.equals("source") ? "missing" : "extra"))
                    .count();
            Path file = folder.resolve("out/t." + side + ".csv");
            assertThat(Files.exists(file)).as(story).isEqualTo(rows > 0);
            if (rows > 0) {
                Database of = side.equals("source") ? source : target;
                List<String> held =
                        new ArrayList<>(List.of("compare", "csv:" + file + "?header=yes", of.address() + "#t"));
                held.addAll(key);
                Tool.Result result = tool.run(held.toArray(new String[0]));
                assertThat(result.code()).as(story + result.all()).isBetween(0, 1);
                List<String> kinds = tool.run("show", "--format", "jsonl")
                        .out()
                        .lines()
                        .map(l -> l.replaceFirst(".*\"kind\":\"([a-z]+)\".*", "$1"))
                        .distinct()
                        .toList();
                assertThat(kinds).as(story + result.all()).isSubsetOf("extra");
                assertThat(new Records(file).count()).as(story).isEqualTo(rows);
            }
        }
    }

    /** Counts records of CSV by their quotes. */
    private record Records(Path file) {
        long count() throws IOException {
            long records = 0;
            boolean quoted = false;
            for (char c : Files.readString(file).toCharArray()) {
                quoted ^= c == '"';
                records += c == '\n' && !quoted ? 1 : 0;
            }
            return records - 1;
        }
    }
}
