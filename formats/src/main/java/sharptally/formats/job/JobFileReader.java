package sharptally.formats.job;

import java.io.IOException;
import java.io.InputStream;
import java.io.StringReader;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.SequenceNode;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.core.place.union.UnionAddress;
import sharptally.formats.InputFile;

/**
 * Reads job files. All that is wrong with a job file is told at once, each with its file, line and column, and the known word
 * that is nearest. The same form is published as a JSON Schema in {@code job.schema.json}.
 */
public final class JobFileReader {
    static final Set<String> KEYS = new LinkedHashSet<>(List.of(
            "job",
            "include",
            "source",
            "target",
            "targets",
            "workers",
            "record",
            "keep-runs",
            "accepted",
            "notify",
            "secrets",
            "defaults",
            "leave-out-tables",
            "allow-empty",
            "matches"));

    private final Variables variables;
    private final List<String> problems = new ArrayList<>();
    private final List<Path> including = new ArrayList<>();
    private final MatchReader matches = new MatchReader();
    private final List<Glob> leaveOutTables = new ArrayList<>();
    private Optional<String> source = Optional.empty();
    private List<String> targets = List.of();
    private Optional<String> record = Optional.empty();
    private Optional<Integer> workers = Optional.empty();
    private Optional<Integer> keepRuns = Optional.empty();
    private boolean allowEmpty;
    private Optional<Path> accepted = Optional.empty();
    private final List<Notice> notices = new ArrayList<>();
    private final Set<String> secrets = new LinkedHashSet<>();

    private JobFileReader(Map<String, String> environment, Clock clock) {
        this.variables = new Variables(environment, clock);
    }

    /**
     * @param environment where variables are looked up
     * @param clock from which times such as {@code ${time:7d}} are counted
     * @throws ToolException when the file is not there or not a job file
     */
    public static JobFile read(Path file, Map<String, String> environment, Clock clock) {
        JobFileReader reading = new JobFileReader(environment, clock);
        reading.readFile(file, true);
        if (!reading.problems.isEmpty()) {
            throw ToolException.all(ErrorKind.JOB_FILE, reading.problems);
        }
        return new JobFile(
                nameOf(file),
                reading.source.orElseThrow(),
                reading.targets,
                false,
                reading.workers,
                reading.record,
                reading.keepRuns,
                reading.notices,
                reading.leaveOutTables,
                reading.allowEmpty,
                reading.accepted,
                reading.matches.read());
    }

    /**
     * Who is told of the job file's runs, and where they are recorded, as far as that can be made out though the rest of it is
     * not as it should be: those people must hear of just that.
     */
    public static Addressees addressees(Path file, Map<String, String> environment) {
        JobFileReader reading = new JobFileReader(environment, Clock.systemUTC());
        reading.readFile(file, true);
        return new Addressees(reading.notices, reading.record);
    }

    /**
     * @param record the address of the place in which results are recorded
     */
    public record Addressees(List<Notice> notices, Optional<String> record) {
        public Addressees {
            notices = List.copyOf(notices);
        }
    }

    /** How a run remembers the job file that it was made by: its whole path. */
    public static String nameOf(Path file) {
        return file.toAbsolutePath().normalize().toString();
    }

    /** The form of job files as a JSON Schema. */
    public static String schema() {
        try (InputStream in = JobFileReader.class.getResourceAsStream("job.schema.json")) {
            return new String(
                    java.util.Objects.requireNonNull(in).readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private void readFile(Path file, boolean outermost) {
        Path whole = file.toAbsolutePath().normalize();
        if (including.contains(whole)) {
            problems.add("job files include each other in a circle: "
                    + String.join(
                            " > ",
                            including.stream()
                                    .map(p -> p.getFileName().toString())
                                    .toList())
                    + " > " + file.getFileName() + "; take one of the includes out");
            return;
        }
        including.add(whole);
        compose(file, outermost).ifPresent(root -> readRoot(file, root, outermost));
        including.remove(whole);
    }

    private Optional<Node> compose(Path file, boolean outermost) {
        try {
            LoaderOptions options = new LoaderOptions();
            options.setAllowDuplicateKeys(true);
            Node root = new org.yaml.snakeyaml.Yaml(options).compose(new StringReader(InputFile.text(file)));
            if (root == null || YamlMap.isNull(root)) {
                problems.add((outermost ? "the job file is empty: " : "the included job file is empty: ") + file
                        + "; see docs/job-file.md");
                return Optional.empty();
            }
            return Optional.of(root);
        } catch (NoSuchFileException e) {
            problems.add("no such file: " + file + "; check the path");
        } catch (IOException e) {
            problems.add("can't read the job file: " + file + " (" + e.getMessage()
                    + "); it should be a file of text in UTF-8");
        } catch (MarkedYAMLException e) {
            String where = e.getProblemMark() == null
                    ? ""
                    : ", line " + (e.getProblemMark().getLine() + 1) + ", column "
                            + (e.getProblemMark().getColumn() + 1);
            problems.add(file + where + ": not YAML: " + e.getProblem() + "; see docs/job-file.md");
        } catch (YAMLException | StackOverflowError e) {
            problems.add(file + ": not YAML: "
                    + String.valueOf(e.getMessage()).lines().findFirst().orElse("") + "; see docs/job-file.md");
        }
        return Optional.empty();
    }

    private void readRoot(Path file, Node root, boolean outermost) {
        var context = new YamlMap.Context(file, variables::replaced, problems);
        YamlMap map = YamlMap.of(context, root, KEYS);
        for (String included : map.texts("include")) {
            readFile(file.resolveSibling(included), false);
        }
        Optional<String> version = outermost ? map.requiredText("job") : map.text("job");
        version.filter(v -> !v.equals(Integer.toString(JobFile.FORMAT)))
                .ifPresent(v -> map.problem("job", "a job file must begin with 'job: " + JobFile.FORMAT + "'"));
        source = place(context, map, "source").or(() -> source);
        readTargets(context, map);
        record = map.text("record").or(() -> record);
        workers = map.read(
                        "workers",
                        t -> t.matches("[1-9]\\d?") ? Optional.of(Integer.parseInt(t)) : Optional.empty(),
                        "a number from 1 to 99")
                .or(() -> workers);
        keepRuns = map.read(
                        "keep-runs",
                        t -> t.matches("[1-9]\\d{0,4}") ? Optional.of(Integer.parseInt(t)) : Optional.empty(),
                        "a number from 1 to 99999")
                .or(() -> keepRuns);
        accepted = map.text("accepted")
                .map(name -> file.toAbsolutePath().resolveSibling(name).normalize())
                .or(() -> accepted);
        allowEmpty = map.read(
                        "allow-empty",
                        t -> t.matches("true|false") ? Optional.of(Boolean.valueOf(t)) : Optional.empty(),
                        "true or false")
                .orElse(allowEmpty);
        secrets.addAll(map.texts("secrets"));
        var telling = new YamlMap.Context(file, text -> variables.replacedOnlyBy(secrets, text), problems);
        Set<String> hidden = secrets.stream()
                .map(variables.environment()::get)
                .filter(value -> value != null && !value.isEmpty())
                .collect(Collectors.toSet());
        map.each("notify", node -> {
            int before = problems.size();
            Optional<Notice> notice = NoticeReader.read(telling, node).map(n -> n.hiding(hidden));
            notice.filter(n -> problems.size() == before).ifPresent(notices::add);
        });
        map.texts("leave-out-tables").forEach(t -> leaveOutTables.add(new Glob(t)));
        matches.readDefaults(map);
        map.each("matches", node -> matches.readMatch(context, node));
        if (outermost && source.isEmpty() && !map.has("source")) {
            map.problem("a job file needs a source; see docs/job-file.md");
        }
        if (outermost && targets.isEmpty() && !map.has("target") && !map.has("targets")) {
            map.problem("a job file needs a target; see docs/job-file.md");
        }
    }

    /** An address, a list of those whose tables together are one, or such ones by name with the column that tells them. */
    private static Optional<String> place(YamlMap.Context context, YamlMap map, String key) {
        Optional<Node> node = map.node(key);
        if (node.filter(SequenceNode.class::isInstance).isPresent()) {
            List<String> parts = map.texts(key);
            return Optional.of(parts.size() == 1 ? parts.get(0) : UnionAddress.written(parts, Optional.empty()));
        }
        if (node.filter(MappingNode.class::isInstance).isPresent()) {
            YamlMap named = YamlMap.of(context, node.get(), Set.of());
            List<String> parts = new ArrayList<>();
            for (String name : named.keys()) {
                if (!name.equals("by")) {
                    named.text(name).ifPresent(address -> parts.add(name + "=" + address));
                }
            }
            return Optional.of(UnionAddress.written(parts, named.has("by") ? named.text("by") : Optional.empty()));
        }
        return map.text(key);
    }

    private void readTargets(YamlMap.Context context, YamlMap map) {
        if (map.has("target") && map.has("targets")) {
            map.problem("targets", "either target, or targets of which each is compared by itself; not both");
        }
        List<String> several = map.texts("targets");
        if (new HashSet<>(several).size() < several.size()) {
            map.problem("targets", "the same target stands twice");
        }
        targets =
                several.isEmpty() ? place(context, map, "target").map(List::of).orElse(targets) : several;
    }
}
