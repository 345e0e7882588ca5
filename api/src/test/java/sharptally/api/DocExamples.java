package sharptally.api;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.tools.ToolProvider;

/** The classes that a page of the docs shows, compiled as they stand there. */
final class DocExamples {
    private static final Pattern EXAMPLE = Pattern.compile("```java\n(.*?)```", Pattern.DOTALL);
    private static final Pattern CLASS = Pattern.compile("(?m)^(?:public )?(?:final )?class (\\w+)");

    private DocExamples() {}

    /**
     * Compiles the page's classes into a folder, and whatever other sources are there.
     *
     * @return their names, in the order of the page
     */
    static List<String> compile(String page, Path folder) throws IOException {
        List<String> names = new ArrayList<>();
        Matcher example = EXAMPLE.matcher(Files.readString(Path.of("..", "docs", page)));
        while (example.find()) {
            Matcher name = CLASS.matcher(example.group(1));
            assertThat(name.find()).as(example.group(1)).isTrue();
            names.add(name.group(1));
            Files.writeString(folder.resolve(name.group(1) + ".java"), example.group(1));
        }
        List<String> arguments = new ArrayList<>(List.of(
                "-Xlint:all,-path",
                "-Werror",
                "-d",
                folder.toString(),
                "-cp",
                System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"))));
        try (var files = Files.newDirectoryStream(folder, "*.java")) {
            files.forEach(source -> arguments.add(source.toString()));
        }
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        int compiled = ToolProvider.getSystemJavaCompiler().run(null, said, said, arguments.toArray(new String[0]));
        assertThat(compiled).as(said.toString(StandardCharsets.UTF_8)).isZero();
        return names;
    }
}
