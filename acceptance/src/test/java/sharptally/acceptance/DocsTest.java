package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Every job file in the docs does what its first lines say: {@code # compare: 1} is a command and its exit code. */
class DocsTest {
    private static final Pattern JOB_FILE = Pattern.compile("```yaml\n((?:# \\w+: \\d\n)+)(.*?)```", Pattern.DOTALL);

    @TempDir
    Path folder;

    @Test
    void jobFilesOfTheDocsRunOnTheDemo() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        List<String> ran = new ArrayList<>();
        for (String page : List.of("job-file", "rules", "totals")) {
            Matcher jobFile = JOB_FILE.matcher(Files.readString(Path.of("..", "docs", page + ".md")));
            while (jobFile.find()) {
                Files.writeString(folder.resolve("example.yaml"), jobFile.group(1) + jobFile.group(2));
                for (String line : jobFile.group(1).lines().toList()) {
                    String command = line.replaceAll("# (\\w+): \\d", "$1");
                    Tool.Result result = tool.run(command, "--job", "example.yaml");
                    assertThat(result.code() + "")
                            .as(page + ".md\n" + jobFile.group(2) + result.all())
                            .isEqualTo(line.substring(line.length() - 1));
                    assertThat(result.err()).isEmpty();
                    ran.add(command);
                }
            }
        }
        assertThat(ran).hasSizeGreaterThan(7);
    }

    private static final Pattern PLAYED = Pattern.compile("```console\n(.*?)```", Pattern.DOTALL);

    /** What a page shows of a command is what it prints, line by line, but for what is another one each time. */
    @Test
    void whatThePagesShowIsWhatIsPrinted() throws Exception {
        for (String page : List.of("insight")) {
            Path own = Files.createDirectory(folder.resolve(page));
            Tool tool = new Tool(own);
            int played = 0;
            Matcher block = PLAYED.matcher(Files.readString(Path.of("..", "docs", page + ".md")));
            while (block.find()) {
                for (String one : ("\n" + block.group(1)).split("\n\\$ ")) {
                    if (!one.isBlank()) {
                        play(tool, own, one);
                        played++;
                    }
                }
            }
            assertThat(played).as(page).isPositive();
        }
    }

    private static void play(Tool tool, Path folder, String example) throws Exception {
        String command = example.lines().findFirst().orElseThrow();
        String[] parts = command.split(" {2}", 2);
        if (command.startsWith("cp ")) {
            String[] files = command.split(" ");
            Files.copy(folder.resolve(files[1]), folder.resolve(files[2]));
            return;
        }
        if (command.startsWith("sqlite ")) {
            try (Connection connection =
                            DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(parts[0].split(" ")[1]));
                    Statement statement = connection.createStatement()) {
                for (String sql : parts[1].split("; ")) {
                    statement.execute(sql);
                }
            }
            return;
        }
        List<String> words = new ArrayList<>();
        Matcher word = Pattern.compile("\"([^\"]*)\"|(\\S+)").matcher(parts[0]);
        while (word.find()) {
            words.add(word.group(1) == null ? word.group(2) : word.group(1));
        }
        Tool.Result result = tool.run(words.subList(1, words.size()).toArray(String[]::new));
        int code = parts.length > 1
                ? Integer.parseInt(parts[1].replace("# exit ", "").strip())
                : 0;
        assertThat(result.code()).as(command + "\n" + result.all()).isEqualTo(code);
        if (example.lines().count() < 2) {
            return;
        }
        StringBuilder expected = new StringBuilder("(?s)");
        for (String line : example.lines().skip(1).toList()) {
            String told =
                    Pattern.quote(line.strip()).replace("…", "\\E[^\n]*\\Q").replaceAll(" +", "\\\\E +\\\\Q");
            expected.append(line.strip().equals("…") ? ".*" : " *" + told + " *\n");
        }
        assertThat(result.out() + "\n").as(command).matches(expected + "\\s*");
    }

    @Test
    void jobFileOfTheDemoShowsEveryKindOfMatchAndRule() throws Exception {
        Tool tool = new Tool(folder);
        tool.run("demo", "--data-only", "--size", "1000");
        Tool.Result compared = tool.run("compare", "--job", "tide-demo/moved.yaml");
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        for (String rule : List.of(
                "within",
                "decimals",
                "precision",
                "zone",
                "case",
                "spaces",
                "empty-as-null",
                "same-as",
                "json",
                "list",
                "clean")) {
            assertThat(compared.out()).containsPattern("\\d  " + rule + "\n");
        }
        assertThat(compared.out())
                .contains("1  unicode + spaces + case\n")
                .contains("month_summary")
                .contains("ref_cause > LOOKUP_CAUSE")
                .contains("open_alarm");
        Tool.Result shown = tool.run("show", "--view", "totals");
        assertThat(shown.out()).contains("held", "rows >= 4", "4 expectations held");
    }
}
