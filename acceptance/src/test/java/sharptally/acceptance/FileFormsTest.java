package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/** Numbers, times and truths as people write them into files: read by rules that the draft proposes, and written back. */
class FileFormsTest {
    @TempDir
    Path folder;

    /** Numbers, times and truths as people write them: a draft finds how, and by its job file only what was nudged differs. */
    @ParameterizedTest
    @EnumSource(
            value = Kind.class,
            names = {"POSTGRESQL", "H2"})
    void formsOfPeopleAreDraftedAndRead(Kind kind) throws Exception {
        long seed = Seed.next();
        Random random = new Random(seed);
        String decimal = random.nextBoolean() ? "," : ".";
        String thousands = decimal.equals(",") ? RandomTable.pick(random, ".", " ", "'") : ",";
        String date = RandomTable.pick(random, "dd.MM.yyyy", "dd/MM/yyyy", "MM/dd/yyyy", "yyyyMMdd");
        String time = RandomTable.pick(random, "dd.MM.yyyy HH:mm:ss", "MM/dd/yyyy HH:mm", "dd-MM-yyyy HH:mm:ss");
        List<String> truths = RandomTable.pick(random, List.of("Y", "N"), List.of("ja", "nein"), List.of("No", "Yes"));
        String unit = RandomTable.pick(random, "", "", " m", "hPa", " \u00b0C", " %");
        String yes = truths.get(truths.get(0).equals("No") ? 1 : 0);
        String story = "seed " + seed + " " + kind + " " + decimal + thousands + unit + " " + date + ", " + time + ", "
                + truths;
        System.out.println(story);
        Database target = new Database(kind, folder, "target");
        target.execute(
                "CREATE TABLE forms (id int PRIMARY KEY, d numeric(12, 2), taken_on date, taken_at timestamp, yes boolean)");
        StringBuilder csv = new StringBuilder("id|d|taken_on|taken_at|yes\n");
        for (int id = 1; id <= 60; id++) {
            // One of them shows what stands between thousands, and that the day can be beyond 12.
            BigDecimal d = BigDecimal.valueOf(id == 1 ? 123_456_789 : random.nextInt(2_000_000) - 1_000_000, 2);
            var at = java.time.LocalDateTime.of(
                    2001 + random.nextInt(20),
                    1 + random.nextInt(12),
                    id == 1 ? 28 : 1 + random.nextInt(28),
                    random.nextInt(24),
                    random.nextInt(60));
            boolean truth = id == 1 || id > 2 && random.nextBoolean();
            String plain = String.format(java.util.Locale.US, "%,.2f", d);
            String written = plain.replace(",", "T").replace(".", decimal).replace("T", thousands) + unit;
            csv.append(id).append('|').append(written).append('|');
            csv.append(at.format(java.time.format.DateTimeFormatter.ofPattern(date)))
                    .append('|');
            csv.append(at.format(java.time.format.DateTimeFormatter.ofPattern(time)))
                    .append('|');
            csv.append(truth ? yes : truths.get(yes.equals(truths.get(0)) ? 1 : 0))
                    .append('\n');
            target.execute("INSERT INTO forms VALUES (" + id + ", " + d.toPlainString() + ", DATE '" + at.toLocalDate()
                    + "', TIMESTAMP '" + at.toLocalDate() + " " + at.toLocalTime() + ":00', " + truth + ")");
        }
        Files.writeString(folder.resolve("forms.csv"), csv);
        Tool tool = new Tool(folder);
        Tool.Result drafted = tool.run("draft", "csv:forms.csv", target.address() + "#forms", "--out", "forms.yaml");
        assertThat(drafted.code()).as(story + drafted.all()).isZero();
        String job = Files.readString(folder.resolve("forms.yaml"));
        Tool.Result same = tool.run("compare", "--job", "forms.yaml");
        assertThat(same.code()).as(story + job + same.all()).isZero();
        target.execute("UPDATE forms SET d = d + 0.01 WHERE id = 7", "UPDATE forms SET yes = NOT yes WHERE id = 8");
        target.execute("UPDATE forms SET taken_at = taken_at + INTERVAL '1' MINUTE WHERE id = 9");
        tool.run("compare", "--job", "forms.yaml");
        List<String> found = tool.run("show", "--format", "jsonl")
                .out()
                .lines()
                .map(l -> l.replaceFirst(".*\"id\":(\\d+).*\"differs\":\\{\"(\\w+)\".*", "$1 $2"))
                .map(l -> l.toLowerCase(java.util.Locale.ROOT))
                .toList();
        assertThat(found).as(story + job).containsExactly("7 d", "8 yes", "9 taken_at");

        // The other way round: a new file, in which the values of the database are written in the file's forms.
        String forms = job.lines()
                .filter(l -> l.matches(" +- \\{source: .*written.*"))
                .map(l -> l.replaceFirst("source: (.*?), target: (.*?), ", "source: $2, target: $1, "))
                .collect(Collectors.joining("\n"));
        Files.writeString(
                folder.resolve("back.yaml"), """
                job: 1
                source: '%s'
                target: 'csv:forms.csv'
                matches:
                  - source: forms
                    key: [id]
                    leave-out: ['yes']
                    columns:
                %s
                """.formatted(target.address(), forms.isBlank() ? "      []" : forms));
        target.execute("DELETE FROM forms WHERE id = 20", "UPDATE forms SET d = -1234567.5 WHERE id = 21");
        Tool.Result back = tool.run("compare", "--job", "back.yaml");
        assertThat(back.code()).as(story + back.all()).isEqualTo(1);
        Tool.Result written = tool.run("script", "--out", "new.csv");
        assertThat(written.code()).as(story + forms + written.all()).isZero();
        Files.move(folder.resolve("new.csv"), folder.resolve("forms.csv"), StandardCopyOption.REPLACE_EXISTING);
        assertThat(tool.run("compare", "--job", "back.yaml").all())
                .as(story + forms + Files.readString(folder.resolve("forms.csv")))
                .startsWith("exit 0");
    }
}
