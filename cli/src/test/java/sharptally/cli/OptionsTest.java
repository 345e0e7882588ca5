package sharptally.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;
import picocli.CommandLine.Model.OptionSpec;
import sharptally.cli.help.HelpPage;
import sharptally.cli.screen.Screen;

/** One word, one meaning: what an option is called says what it does, in whichever command. */
class OptionsTest {
    /** Options that are worded in several ways, and why. */
    private static final Map<String, String> WORDED_APART = Map.of(
            "--job", "the job: run by commands that compare, its latest run for those that work on a run",
            "--out", "the file that is written: a job file, checksums, a script",
            "--out-folder", "the folder that is written: reports, manual pages, the demo",
            "--format", "the forms that a command knows: text and json, and those of lists and reports",
            "--limit", "how many of what is listed: findings, findings of a page, runs",
            "--range-rows", "rows of a range: many for comparing, few where ranges are all that is told",
            "--where", "SQL: of one database where there is one",
            "--if", "a condition of ours: on rows that are compared, on findings of a run",
            "--column", "only these columns: of totals, of differing ones",
            "--save-selection", "the selection file that is written: of all that is shown, of what is marked");

    private static final Set<String> OF_OTHERS = Set.of(
            "--default-character-set",
            "--catalog",
            "--file",
            "--schema",
            "--server",
            "--user",
            // Of Spark.
            "--add-opens",
            "--class",
            "--cores",
            "--files",
            "--host",
            "--master",
            "--memory",
            "--port",
            "--webui-port",
            "--work-dir");

    private static Map<String, CommandLine> commands() {
        PrintStream nowhere = new PrintStream(PrintStream.nullOutputStream());
        Map<String, CommandLine> all =
                new TreeMap<>(Main.commandLine(Screen.of(nowhere, nowhere)).getSubcommands());
        all.values().removeIf(command -> command.getCommandSpec().usageMessage().hidden());
        return all;
    }

    private static Stream<OptionSpec> options(CommandLine command) {
        return command.getCommandSpec().options().stream()
                .filter(o -> !o.hidden() && !o.longestName().equals("--help"));
    }

    @Test
    void oneNameHasOneMeaning() {
        Map<String, Map<String, Set<String>>> meanings = new TreeMap<>();
        commands()
                .forEach((name, command) -> options(command)
                        .forEach(o -> Stream.of(o.names())
                                .forEach(option -> meanings.computeIfAbsent(option, n -> new LinkedHashMap<>())
                                        .computeIfAbsent(
                                                o.paramLabel() + " | " + o.description()[0] + " | " + o.defaultValue(),
                                                n -> new TreeSet<>())
                                        .add(name))));
        Map<String, Map<String, Set<String>>> several = meanings.entrySet().stream()
                .filter(e -> e.getValue().size() > 1)
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
        assertThat(several.keySet()).as(several.toString()).isEqualTo(WORDED_APART.keySet());
    }

    /** No word is an option in one command and an option in the plural in another. */
    @Test
    void noTwoNamesMeanOneThing() {
        Set<String> names = commands().values().stream()
                .flatMap(OptionsTest::options)
                .flatMap(o -> Stream.of(o.names()))
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(names.stream().filter(n -> names.contains(n + "s"))).isEmpty();
        assertThat(names).allMatch(n -> n.matches("--[a-z]+(-[a-z]+)*|-[hVq]"));
        assertThat(HelpPage.groupedNames()).allMatch(names::contains);
    }

    /** What a message tells people to type is there to be typed. */
    @Test
    void optionsThatAreSpokenOfExist() throws IOException {
        Set<String> known = new TreeSet<>(List.of("--make-archive", "--version", "--help"));
        commands().values().stream()
                .flatMap(c -> c.getCommandSpec().options().stream())
                .flatMap(o -> Stream.of(o.names()))
                .flatMap(name -> Stream.of(name, name.replaceFirst("^--", "--no-")))
                .forEach(known::add);
        Pattern literal = Pattern.compile("\"(?:[^\"\\\\\n]|\\\\.)*\"");
        Pattern option = Pattern.compile("(?<![\\w-])--[a-z][a-z-]*[a-z]");
        Map<String, String> unknown = new TreeMap<>();
        try (Stream<Path> files = Files.walk(Path.of(".."))) {
            for (Path file : files.filter(f -> f.toString().matches(".*/src/main/java/.*\\.java"))
                    .toList()) {
                literal.matcher(Files.readString(file))
                        .results()
                        .forEach(text -> option.matcher(text.group())
                                .results()
                                .map(MatchResult::group)
                                .filter(name -> !known.contains(name))
                                .forEach(name -> unknown.put(name, file + ": " + text.group())));
            }
        }
        // Options of other programs: of databases' own clients.
        unknown.keySet().removeAll(OF_OTHERS);
        assertThat(unknown).isEmpty();
    }

    @Test
    void everyCommandWithAResultHasJson() {
        Set<String> without = commands().entrySet().stream()
                .filter(e ->
                        options(e.getValue()).noneMatch(o -> List.of(o.names()).contains("--format")))
                .map(Map.Entry::getKey)
                .collect(Collectors.toCollection(TreeSet::new));
        assertThat(without).containsExactly("browse", "completion", "demo", "help", "manual");
    }

    @Test
    void commandsThatChooseTablesChooseThemAlike() {
        commands().forEach((name, command) -> {
            List<String> names =
                    options(command).flatMap(o -> Stream.of(o.names())).toList();
            assertThat(names.contains("--table")).as(name).isEqualTo(names.contains("--leave-out-table"));
        });
    }
}
