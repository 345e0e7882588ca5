package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
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
        Tool tool = Tool.apart(folder);
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

    @Test
    void jobFileOfTheDemoShowsEveryKindOfMatchAndRule() throws Exception {
        Tool tool = Tool.apart(folder);
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
