package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.acceptance.Database.Kind;

/** With --redact, no value and no key is in anything that is printed, written or drawn. */
class HiddenValuesTest {
    private final long seed = System.nanoTime();
    private final Random random = new Random(seed);
    private final List<String> secrets = new ArrayList<>();

    @TempDir
    Path folder;

    private Tool tool;

    /** A value that can't be in an output by chance. */
    private String secret() {
        String text = "zq" + Long.toString(Math.abs(random.nextLong()), 36);
        secrets.add(text);
        return text;
    }

    private long number() {
        long number = 7_000_000_000_000_000L + random.nextInt(Integer.MAX_VALUE);
        secrets.add(Long.toString(number));
        return number;
    }

    @BeforeEach
    void fill() throws Exception {
        System.out.println("hidden values, seed " + seed);
        tool = new Tool(folder);
        List<String> rows = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            rows.add("('" + secret() + "', " + number() + ", '" + secret() + "')");
        }
        for (String side : List.of("src", "tgt")) {
            new Database(Kind.SQLITE, folder, side)
                    .execute(
                            "CREATE TABLE keyed (code TEXT PRIMARY KEY, depth BIGINT, remark TEXT)",
                            "CREATE TABLE loose (code TEXT, depth BIGINT, remark TEXT)",
                            "INSERT INTO keyed VALUES " + String.join(", ", rows),
                            "INSERT INTO loose VALUES " + String.join(", ", rows.subList(0, 20)));
        }
        new Database(Kind.SQLITE, folder, "tgt")
                .execute(
                        "UPDATE keyed SET remark = '" + secret() + "' WHERE rowid % 40 = 0",
                        "UPDATE keyed SET depth = depth + 10000019, remark = NULL WHERE rowid % 41 = 0",
                        "DELETE FROM keyed WHERE rowid % 60 = 7",
                        "INSERT INTO keyed VALUES ('" + secret() + "', " + number() + ", '')",
                        "UPDATE loose SET remark = remark || '" + secret() + "' WHERE rowid = 3");
        secrets.add("10000019");
        Files.writeString(folder.resolve("night.yaml"), """
                job: 1
                source: sqlite:src.db
                target: sqlite:tgt.db
                matches:
                  - {source: keyed, totals: {of: all}, where: {source: "code <> '%s'"}, expect: ["max(depth) < %d"]}
                  - {source: loose}
                """.formatted(secret(), number()));
    }

    private void check(int code, String... arguments) {
        List<String> hidden = new ArrayList<>(List.of(arguments));
        hidden.add("--redact");
        Tool.Result result = tool.run(hidden.toArray(String[]::new));
        assertThat(result.code()).as(result.all()).isEqualTo(code);
        reveals(String.join(" ", hidden), result.all());
    }

    private void reveals(String what, String text) {
        assertThat(secrets.stream().filter(text::contains).toList())
                .as(what + " with seed " + seed + "\n" + text)
                .isEmpty();
    }

    @Test
    void nothingIsToldByAnyView() throws Exception {
        check(1, "compare", "--job", "night.yaml");
        check(1, "compare", "--job", "night.yaml", "--format", "json");
        check(1, "compare", "--job", "night.yaml", "--quiet");
        check(1, "totals", "--job", "night.yaml", "--by", "code");
        check(1, "totals", "sqlite:src.db", "sqlite:tgt.db", "--figure", "all", "--all", "--format", "json");
        assertThat(tool.run("compare", "--job", "night.yaml").code()).isEqualTo(1);
        assertThat(secrets.stream().filter(tool.run("show").out()::contains).count())
                .as("what the same view tells without the option")
                .isGreaterThan(10);
        for (String form : List.of("text", "json", "csv", "jsonl")) {
            check(0, "show", "--limit", "0", "--format", form);
        }
        check(0, "show", "--limit", "0", "--view", "values");
        check(0, "show", "--limit", "0", "--view", "detail");
        for (String view : List.of("result", "columns", "ranges", "totals")) {
            check(0, "show", "--view", view);
            check(0, "show", "--view", view, "--format", "json");
        }
        check(0, "report", "--format", "html,md,csv,junit", "--out-folder", "out");
        try (Stream<Path> files = Files.walk(folder.resolve("out"))) {
            for (Path file : files.filter(Files::isRegularFile).collect(Collectors.toList())) {
                reveals(file.toString(), Files.readString(file));
            }
        }
        if (Screenful.isThere()) {
            String browse = Tool.home().resolve("bin/sharp-tally") + " browse --redact";
            try (Screenful terminal = new Screenful(folder, 120, 40, browse)) {
                reveals("tables", terminal.seen("2 tables"));
                terminal.press("Enter");
                reveals("rows", terminal.seen("1 of "));
                terminal.press("Enter");
                reveals("a row", terminal.seen("n/p next"));
            }
        }
    }
}
