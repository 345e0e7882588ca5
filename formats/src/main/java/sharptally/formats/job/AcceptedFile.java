package sharptally.formats.job;

import com.fasterxml.jackson.core.JacksonException;
import java.io.IOException;
import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import sharptally.core.accept.Acceptance;
import sharptally.core.accept.Acceptances;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.TableFilter;
import sharptally.core.finding.ValueCondition;
import sharptally.core.match.text.Glob;
import sharptally.core.match.text.Nearest;
import sharptally.formats.InputFile;

/**
 * A file of accepted differences, kept by people beside a job file; described in {@code docs/accepted.md}. All that is wrong
 * with it is told at once.
 */
public final class AcceptedFile {
    private static final String FORMAT = "1";
    private static final String MEND = "see docs/accepted.md";
    private static final Set<String> KEYS = new LinkedHashSet<>(List.of("accepted", "differences"));
    private static final Set<String> ENTRY = new LinkedHashSet<>(
            List.of("table", "kind", "column", "row", "key-range", "if", "cause", "reason", "owner", "until"));

    private static final Pattern FIRST_ENTRY = Pattern.compile("(?m)^( *)- +\\w");

    private final Path file;
    private final List<String> problems = new ArrayList<>();
    private final List<Acceptance> entries = new ArrayList<>();

    private AcceptedFile(Path file) {
        this.file = file;
    }

    /**
     * @throws ToolException when the file is not there, or not as it should be
     */
    public static Acceptances read(Path file) {
        try {
            return parse(file, InputFile.text(file));
        } catch (NoSuchFileException e) {
            throw new ToolException(
                    ErrorKind.JOB_FILE,
                    "no such file of accepted differences",
                    file.toString(),
                    "check the path; one is made by accepting what a run found",
                    e);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.JOB_FILE,
                    "can't read the file of accepted differences",
                    file + " (" + e.getMessage() + ")",
                    "it should be a file of text in UTF-8",
                    e);
        }
    }

    private static Acceptances parse(Path file, String text) {
        AcceptedFile reading = new AcceptedFile(file);
        try {
            LoaderOptions options = new LoaderOptions();
            options.setAllowDuplicateKeys(true);
            Node root = new org.yaml.snakeyaml.Yaml(options).compose(new StringReader(text));
            if (root == null) {
                reading.problems.add(file + " is empty; " + MEND);
            } else {
                reading.root(root);
            }
        } catch (MarkedYAMLException e) {
            String line = e.getProblemMark() == null
                    ? ""
                    : ", line " + (e.getProblemMark().getLine() + 1);
            reading.problems.add(file + line + ": not YAML: " + e.getProblem() + "; " + MEND);
        } catch (YAMLException | StackOverflowError e) {
            reading.problems.add(file + ": not YAML; " + MEND);
        }
        if (!reading.problems.isEmpty()) {
            throw ToolException.all(ErrorKind.JOB_FILE, reading.problems);
        }
        return new Acceptances(reading.entries);
    }

    private void root(Node root) {
        YamlMap.Context context = new YamlMap.Context(file, UnaryOperator.identity(), problems);
        YamlMap map = YamlMap.of(context, root, KEYS);
        if (!(root instanceof MappingNode)) {
            return;
        }
        map.requiredText("accepted")
                .filter(version -> !version.equals(FORMAT))
                .ifPresent(version -> map.problem("accepted", "it must begin with 'accepted: " + FORMAT + "'"));
        map.each("differences", node -> entry(context, node));
    }

    private void entry(YamlMap.Context context, Node node) {
        int before = problems.size();
        YamlMap map = YamlMap.of(context, node, ENTRY);
        if (!(node instanceof MappingNode)) {
            return;
        }
        Optional<String> table = map.requiredText("table");
        Optional<String> reason = said(map, "reason");
        Optional<String> owner = said(map, "owner");
        Optional<LocalDate> until = map.requiredText("until").flatMap(text -> day(map, text));
        Set<FindingKind> kinds = new HashSet<>();
        map.texts("kind").forEach(word -> kind(map, word).ifPresent(kinds::add));
        List<ValueCondition> conditions = new ArrayList<>();
        map.texts("if").forEach(text -> condition(map, text).ifPresent(conditions::add));
        Optional<Glob> cause = map.text("cause").map(Glob::new);
        Set<String> columns = Set.copyOf(map.texts("column"));
        if ((cause.isPresent() || !columns.isEmpty())
                && !kinds.isEmpty()
                && !kinds.equals(Set.of(FindingKind.CHANGED))) {
            map.problem("kind", "only changed rows have columns and causes that differ; leave kind out");
        }
        if (problems.size() == before) {
            entries.add(new Acceptance(
                    new FindingFilter(
                            new TableFilter(List.of(new Glob(table.orElseThrow())), List.of(), List.of()),
                            kinds,
                            columns,
                            Set.copyOf(map.texts("row")),
                            map.text("key-range"),
                            conditions,
                            List.of()),
                    cause,
                    reason.orElseThrow(),
                    owner.orElseThrow(),
                    until.orElseThrow(),
                    file.getFileName() + ", line " + (node.getStartMark().getLine() + 1)));
        }
    }

    private static Optional<String> said(YamlMap map, String key) {
        Optional<String> text = map.requiredText(key).map(String::strip);
        if (text.filter(String::isEmpty).isPresent()) {
            map.problem(key, "the " + key + " is empty: whoever reads it later must know");
            return Optional.empty();
        }
        return text;
    }

    private static Optional<LocalDate> day(YamlMap map, String text) {
        try {
            return Optional.of(LocalDate.parse(text));
        } catch (DateTimeException e) {
            map.problem("until", "until should be a day such as 2027-01-31, not " + text);
            return Optional.empty();
        }
    }

    private static Optional<FindingKind> kind(YamlMap map, String word) {
        Optional<FindingKind> kind = Arrays.stream(FindingKind.values())
                .filter(k -> k.word().equals(word))
                .findFirst();
        if (kind.isEmpty()) {
            map.problem(
                    "kind",
                    "no such kind: " + word + "; "
                            + Nearest.question(
                                    word,
                                    Arrays.stream(FindingKind.values())
                                            .map(FindingKind::word)
                                            .toList()));
        }
        return kind;
    }

    private static Optional<ValueCondition> condition(YamlMap map, String text) {
        try {
            return Optional.of(ValueCondition.parse(text));
        } catch (ToolException e) {
            map.problem("if", e.getMessage());
            return Optional.empty();
        }
    }

    /**
     * Adds entries to a file, which is made where there is none; what stands there already stays as it is.
     *
     * @return how many entries it has now
     * @throws ToolException when the file is not as it should be, or can't be written; nothing is written then
     */
    public static int add(Path file, List<Acceptance> added) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            String before = Files.exists(file) ? InputFile.text(file) : "";
            StringBuilder text = new StringBuilder(before.isBlank() ? head() : before);
            if (!before.isBlank()) {
                parse(file, before);
                text.append(before.endsWith("\n") ? "" : "\n");
            }
            Matcher entries = FIRST_ENTRY.matcher(before);
            String indent = entries.find() ? entries.group(1) : "  ";
            for (Acceptance entry : added) {
                Yaml.MAPPER
                        .writeValueAsString(List.of(form(entry)))
                        .stripTrailing()
                        .stripIndent()
                        .lines()
                        .forEach(line -> text.append(indent).append(line).append('\n'));
            }
            int count = parse(file, text.toString()).all().size();
            Files.writeString(draft, text);
            Files.move(draft, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            return count;
        } catch (JacksonException e) {
            throw new java.io.UncheckedIOException(e);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the file of accepted differences",
                    file + " (" + e.getMessage() + ")",
                    "check the folder and its rights",
                    e);
        }
    }

    private static String head() {
        return "# Differences that are known and accepted for now: docs/accepted.md tells what may stand here.\n"
                + "accepted: " + FORMAT + "\ndifferences:\n";
    }

    private static Map<String, Object> form(Acceptance entry) {
        FindingFilter what = entry.what();
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("table", what.tables().wanted().get(0).text());
        out.put("kind", oneOrMore(what.kinds().stream().map(FindingKind::word)));
        out.put("column", oneOrMore(what.columns().stream()));
        out.put("row", oneOrMore(what.keys().stream()));
        out.put("key-range", what.range());
        out.put("if", oneOrMore(what.conditions().stream().map(ValueCondition::text)));
        out.put("cause", entry.cause().map(Glob::text));
        out.put("reason", entry.reason());
        out.put("owner", entry.owner());
        out.put("until", entry.until().toString());
        return out;
    }

    private static Object oneOrMore(Stream<String> words) {
        List<String> all = words.sorted().toList();
        return all.size() == 1 ? all.get(0) : all;
    }

    /** What an entry is about, in one line, in the words of the file. */
    public static String words(Acceptance entry) {
        List<String> words = new ArrayList<>();
        form(entry).forEach((key, value) -> {
            if (!Set.of("table", "reason", "owner", "until").contains(key)) {
                Object plain =
                        value instanceof Optional<?> o ? o.map(Object::toString).orElse("") : value;
                if (plain instanceof List<?> list) {
                    if (!list.isEmpty()) {
                        words.add(key + " " + shortened(list));
                    }
                } else if (!plain.toString().isEmpty()) {
                    words.add(key + " " + plain);
                }
            }
        });
        return words.isEmpty() ? "all" : String.join("; ", words);
    }

    private static String shortened(List<?> list) {
        int shown = Math.min(3, list.size());
        return String.join(
                        ", ",
                        list.subList(0, shown).stream().map(Object::toString).toList())
                + (list.size() > shown ? " and " + (list.size() - shown) + " more" : "");
    }
}
