package sharptally.engines.files.raw;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Column;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.files.text.RowsOfFile;

/** Records that are taken apart by their bytes are those that are read, or it is said that they can't be. */
class RawRecordsTest {
    private static final int FILES = 4_000;
    private static final String[] PIECES = {
        ",",
        ",",
        "\"",
        "\"\"",
        "\r",
        "\n",
        "\r\n",
        "\n",
        "a",
        "é",
        "\\N",
        "x,y",
        "\"q,\n\"",
        "\"\"\"\"",
        ";",
        " ",
        "\u2028",
        "0"
    };

    private static final Pattern LARGE = Pattern.compile("y{1000,}");

    @TempDir
    Path folder;

    private record Read(long line, List<String> values) {}

    @Test
    void recordsAreThoseThatAreRead() throws Exception {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        int regular = 0;
        for (int i = 0; i < FILES; i++) {
            byte[] bytes = file(random);
            Path file = folder.resolve("a.csv");
            Files.write(file, bytes);
            FileForm form = FileForm.of(
                    Map.of(
                            "delimiter", ",",
                            "encoding", random.nextInt(4) == 0 ? "iso-8859-1" : "utf-8",
                            "null", random.nextBoolean() ? "" : "\\N",
                            "quote", random.nextInt(5) == 0 ? "none" : "\""),
                    "here");
            String story = "seed " + seed + " file " + i + " " + form + "\n"
                    + new String(bytes, StandardCharsets.UTF_8)
                            .replace("\r", "\\r")
                            .replace("\n", "\\n\n");
            Optional<List<Read>> read = read(file, form);
            RawForm raw;
            try (RowsOfFile rows = FileKind.CSV.open(file, form)) {
                raw = rows.raw().orElseThrow();
            } catch (ToolException e) {
                assertThat(read).as(story).isEmpty();
                continue;
            }
            List<Read> split = new ArrayList<>();
            List<byte[]> records = new ArrayList<>();
            boolean irregular;
            try (RawRecords all = new RawRecords(file, raw)) {
                while (all.advance()) {
                    split.add(new Read(all.line(), values(all, raw)));
                    ByteArrayOutputStream one = new ByteArrayOutputStream();
                    all.writeTo(one);
                    records.add(one.toByteArray());
                }
                irregular = all.isIrregular();
            }
            if (read.isEmpty()) {
                assertThat(irregular).as(story).isTrue();
            } else if (!irregular) {
                regular++;
                assertThat(split).as(story).isEqualTo(read.get());
                assertThat(again(file, raw, records))
                        .as(story)
                        .isEqualTo(read.get().stream().map(Read::values).toList());
            } else {
                // What is irregular without being wrong would only cost time; there is no such thing so far.
                assertThat(irregular).as(story).isFalse();
            }
        }
        assertThat(regular).isGreaterThan(FILES / 20);
    }

    /** Few fields of odd pieces; now and then larger than what is read at once. */
    private static byte[] file(Random random) {
        StringBuilder text = new StringBuilder(random.nextInt(4) == 0 ? "\uFEFF" : "").append("a,b");
        text.append(random.nextBoolean() ? "\n" : "\r\n");
        int records = random.nextInt(6);
        boolean large = random.nextInt(50) == 0;
        for (int i = 0; i < records; i++) {
            for (int field = 0; field < 2; field++) {
                text.append(field == 0 ? "" : ",");
                boolean odd = random.nextInt(8) == 0;
                boolean quoted = random.nextInt(3) == 0;
                String value =
                        odd ? PIECES[random.nextInt(PIECES.length)] + PIECES[random.nextInt(PIECES.length)] : "v" + i;
                if (large && random.nextBoolean()) {
                    value += "y".repeat(100_000 + random.nextInt(300_000));
                }
                text.append(quoted ? "\"" + value.replace("\"", "\"\"") + "\"" : value);
            }
            text.append(random.nextInt(10) == 0 ? "\r" : random.nextInt(5) == 0 ? "\r\n" : i + 1 < records ? "\n" : "");
        }
        byte[] bytes = text.toString()
                .getBytes(random.nextInt(20) == 0 ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_8);
        return bytes;
    }

    /** What is large is long alone. */
    private static String shortened(String value) {
        return LARGE.matcher(value).replaceAll(m -> "(" + m.group().length() + " y)");
    }

    private static Optional<List<Read>> read(Path file, FileForm form) {
        List<Read> all = new ArrayList<>();
        try (RowsOfFile rows = FileKind.CSV.open(file, form)) {
            while (rows.next()) {
                all.add(new Read(rows.line(), values(rows)));
            }
            return Optional.of(all);
        } catch (ToolException e) {
            return Optional.empty();
        }
    }

    private static List<String> values(RowsOfFile rows) {
        List<String> values = new ArrayList<>();
        for (int field = 0; field < rows.names().size(); field++) {
            Column column = new Column(1);
            rows.add(field, column);
            values.add(shortened(column.value(0).toString()));
        }
        return values;
    }

    private static List<String> values(RawRecords records, RawForm form) {
        List<String> values = new ArrayList<>();
        for (int field = 0; field < form.names().size(); field++) {
            Column column = new Column(1);
            if (records.isNull(field)) {
                column.addNull();
            } else {
                records.of(field, (bytes, from, length) -> {
                    column.addText(new String(bytes, from, length, form.charset()));
                    return 0;
                });
            }
            values.add(shortened(column.value(0).toString()));
        }
        return values;
    }

    private static List<List<String>> again(Path file, RawForm form, List<byte[]> records) throws Exception {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        for (byte[] one : records) {
            bytes.write(one);
            bytes.write('\n');
        }
        List<List<String>> values = new ArrayList<>();
        if (!records.isEmpty()) {
            try (RowsOfFile rows = FileKind.CSV.openRecords(file, bytes.toByteArray(), form)) {
                while (rows.next()) {
                    values.add(values(rows));
                }
            }
        }
        return values;
    }
}
