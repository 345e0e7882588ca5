package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.regex.Pattern;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/**
 * Files whose equal records are passed over by their hashes have the differences that a merge of all their rows finds, line by
 * line: with keys that are repeated or NULL, without a key, in several files, written in other ways.
 */
class RecordsTest {
    private static final int ROUNDS = 8;
    private static final String[] VALUES = {
        "", "NULL", "a", "b", "A", "a ", "ä", "x,y", "x;y", "say \"a\"", "two\nlines", "cr\rlf", "1", "01", "1.0", "0"
    };

    /** Keys are compared as text. */
    private static final Pattern IN_PART = Pattern.compile("\"key\":\\{\"c0\":\"[3-6]");

    @TempDir
    Path folder;

    /** How a file is written. */
    private record Form(
            char delimiter, boolean quotesAll, String end, List<Integer> columns, int files, boolean packed) {
        static Form of(Random random, int columns) {
            List<Integer> order = new ArrayList<>();
            for (int i = 0; i < columns; i++) {
                order.add(i);
            }
            Collections.shuffle(order, random);
            return new Form(
                    random.nextBoolean() ? ',' : ';',
                    random.nextInt(3) == 0,
                    random.nextBoolean() ? "\n" : "\r\n",
                    order,
                    1 + random.nextInt(3),
                    random.nextInt(3) > 0);
        }

        String record(List<String> row) {
            List<String> fields = new ArrayList<>();
            for (int column : columns) {
                String value = row.get(column);
                boolean quoted = value.isEmpty() || quotesAll || value.matches("(?s).*[,;\"\r\n].*");
                fields.add(value.equals("NULL") ? "" : quoted ? "\"" + value.replace("\"", "\"\"") + "\"" : value);
            }
            return String.join(String.valueOf(delimiter), fields) + end;
        }
    }

    @Test
    void whatIsFoundIsWhatAMergeFinds() throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        int byRecords = 0;
        for (int round = 0; round < ROUNDS; round++) {
            int columns = 2 + random.nextInt(4);
            // Small numbers of keys are repeated.
            int keys = random.nextInt(3) == 0 ? 40 : 1_000_000;
            List<List<String>> source = new ArrayList<>();
            for (int i = random.nextInt(400); i > 0; i--) {
                source.add(row(random, columns, keys));
            }
            List<List<String>> target = edited(source, random, columns, keys);
            Collections.shuffle(target, random);
            Form ofSource = Form.of(random, columns);
            Form ofTarget = Form.of(random, columns);
            Path home = Files.createDirectory(folder.resolve("round" + round));
            String job = "job: 1\nsource: '" + write(home, "s", source, ofSource, columns) + "'\ntarget: '"
                    + write(home, "t", target, ofTarget, columns) + "'\nmatches:\n  - source: rows\n";
            if (random.nextInt(4) > 0) {
                job += "    key: [" + (random.nextInt(4) == 0 ? "c0, c1" : "c0") + "]\n";
            }
            if (random.nextInt(3) == 0) {
                job += "    columns:\n      - {source: c" + (columns - 1) + ", target: c" + (columns - 1)
                        + ", case: ignore}\n";
            }
            Files.writeString(home.resolve("job.yaml"), job);
            List<String> command = new ArrayList<>(List.of("compare", "--job", "job.yaml"));
            String story = "seed " + seed + " round " + round + " " + job + ofSource + "\n" + ofTarget;
            Tool tool = new Tool(home);
            Tool.Result fast = tool.run(command.toArray(String[]::new));
            List<String> found = findings(tool);
            command.addAll(List.of("--method", "stream"));
            Tool.Result plain = tool.run(command.toArray(String[]::new));
            byRecords += fast.out().contains("by records") ? 1 : 0;
            assertThat(plain.out()).as(story).doesNotContain("by records");
            assertThat(fast.code())
                    .as(story + fast.all() + plain.all())
                    .isEqualTo(plain.code())
                    .isLessThan(2);
            assertThat(found).as(story + fast.all() + plain.all()).isEqualTo(findings(tool));
            assertThat(counts(fast)).as(story).isEqualTo(counts(plain));
            if (job.contains("key: [c0]")) {
                Tool.Result part = tool.run("compare", "--job", "job.yaml", "--key-range", "3..7");
                assertThat(part.code()).as(story + part.all()).isLessThan(2);
                assertThat(findings(tool))
                        .as(story + part.all())
                        .isEqualTo(found.stream()
                                .filter(f -> IN_PART.matcher(f).find())
                                .toList());
            }
        }
        assertThat(byRecords).isGreaterThan(ROUNDS / 5);
    }

    /** A file in no order, and a database of each kind: what its edits are is known. */
    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"SQLITE", "H2", "DUCKDB", "POSTGRESQL", "MARIADB", "MYSQL"})
    void valuesOfAFileAreFoundInADatabase(Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        int byRecords = 0;
        for (int round = 0; round < 4; round++) {
            RandomTable table = new RandomTable(random, kind);
            while (table.source.size() < 30) {
                table = new RandomTable(random, kind);
            }
            String story = "seed " + seed + " round " + round + " " + kind + " " + table;
            System.out.println(story);
            Path home = Files.createDirectory(folder.resolve("with" + round));
            Database writer = new Database(Kind.DUCKDB, home, "writer");
            Database target = new Database(kind, home, "target");
            table.create(writer, table.source);
            table.create(target, table.target);
            String file = new Exported(writer, table, home).write("rows");
            // How many rows a packed file has is not told, so it is not taken for a small one.
            try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(home.resolve("rows.csv.gz")))) {
                Files.copy(home.resolve("rows.csv"), out);
            }
            List<String> command = new ArrayList<>(
                    List.of("compare", file.replace("rows.csv", "rows.csv.gz"), target.address() + "#t"));
            for (int c : table.key) {
                command.addAll(List.of("--key", table.columns.get(c)));
            }
            Tool tool = new Tool(home);
            Tool.Result fast = tool.run(command.toArray(String[]::new));
            byRecords += fast.out().contains("by records") ? 1 : 0;
            boolean same = table.expected.keySet().stream().allMatch(found -> found.endsWith(" rows 0"));
            assertThat(fast.code()).as(story + fast.all()).isEqualTo(same ? 0 : 1);
            List<String> found = findings(tool);
            if (!table.key.isEmpty()) {
                assertThat(FilesTest.findings(String.join("\n", found), table))
                        .as(story + fast.all())
                        .isEqualTo(table.expected);
            }
            command.addAll(List.of("--method", "stream"));
            Tool.Result plain = tool.run(command.toArray(String[]::new));
            assertThat(plain.out()).as(story).doesNotContain("by records");
            assertThat(found).as(story + fast.all() + plain.all()).isEqualTo(findings(tool));
            assertThat(counts(fast)).as(story).isEqualTo(counts(plain));
        }
        assertThat(byRecords).isPositive();
    }

    private static List<String> row(Random random, int columns, int keys) {
        List<String> row = new ArrayList<>();
        row.add(random.nextInt(40) == 0 ? "NULL" : Integer.toString(random.nextInt(keys)));
        for (int column = 1; column < columns; column++) {
            row.add(VALUES[random.nextInt(VALUES.length)]);
        }
        return row;
    }

    private static List<List<String>> edited(List<List<String>> rows, Random random, int columns, int keys) {
        List<List<String>> edited = new ArrayList<>();
        for (List<String> row : rows) {
            List<String> copy = new ArrayList<>(row);
            int edit = random.nextInt(20);
            if (edit == 0) {
                copy.set(random.nextInt(columns), VALUES[random.nextInt(VALUES.length)]);
            }
            if (edit != 1) {
                edited.add(copy);
            }
            if (edit == 2) {
                edited.add(random.nextBoolean() ? row : row(random, columns, keys));
            }
        }
        return edited;
    }

    /** The address. */
    private static String write(Path home, String name, List<List<String>> rows, Form form, int columns)
            throws Exception {
        List<String> names = new ArrayList<>();
        for (int i = 0; i < columns; i++) {
            names.add("c" + i);
        }
        for (int file = 0; file < form.files; file++) {
            Path path = home.resolve(name + "-" + file + (form.packed ? ".csv.gz" : ".csv"));
            try (OutputStream raw = Files.newOutputStream(path);
                    OutputStream out = form.packed ? new GZIPOutputStream(raw) : raw) {
                out.write(form.record(names).getBytes(StandardCharsets.UTF_8));
                for (int i = file; i < rows.size(); i += form.files) {
                    out.write(form.record(rows.get(i)).getBytes(StandardCharsets.UTF_8));
                }
            }
        }
        return "csv:" + name + "-*?delimiter=" + (form.delimiter == ',' ? "comma" : "semicolon")
                + "&encoding=utf-8#rows";
    }

    /** Where the same finding stands twice, it is told twice. */
    private static List<String> findings(Tool tool) throws Exception {
        return tool.run("show", "--format", "jsonl").out().lines().sorted().toList();
    }

    private static List<String> counts(Tool.Result result) {
        return result.out()
                .lines()
                .filter(l -> l.startsWith("rows "))
                .map(l -> l.replaceAll("(by records|stream|whole rows).*", "").strip())
                .toList();
    }
}
