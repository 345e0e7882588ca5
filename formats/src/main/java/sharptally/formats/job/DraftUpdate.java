package sharptally.formats.job;

import java.io.StringReader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.yaml.snakeyaml.DumperOptions.FlowStyle;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.NodeTuple;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;
import sharptally.core.draft.Draft;
import sharptally.core.draft.Proposal;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * Adds to a job file what is new, as text: not a letter of what stands there is changed. New matches stand behind the last
 * one, new columns within their match.
 */
public final class DraftUpdate {
    private final Path file;
    private final String text;
    private final DraftText writer;
    private final Map<Integer, List<String>> insertions = new TreeMap<>(Comparator.reverseOrder());

    /**
     * @param text of the job file, which has been read without problems
     */
    public DraftUpdate(Path file, String text, DraftText writer) {
        this.file = file;
        this.text = text;
        this.writer = writer;
    }

    /** New columns of a match that the job file has already: pairs, and those of one side alone. */
    public record NewColumns(String source, Draft.Pair pair) {}

    /**
     * The job file with what is new.
     *
     * @param draft pairs of tables that the job file does not have, and tables without a counterpart
     * @param columns new columns of matches that it has
     */
    public String updated(Draft draft, List<NewColumns> columns) {
        Optional<Node> matches = value(root(), "matches");
        columns.forEach(c -> matches.flatMap(m -> item(m, c.source())).ifPresent(m -> addColumns(m, c)));
        List<String> lines = new ArrayList<>();
        String indent = matches.map(DraftUpdate::indentOf).orElse("  ");
        draft.pairs().forEach(p -> lines.addAll(writer.match(p, indent)));
        List<String> alone = writer.alone(draft).stream()
                .filter(line -> !line.isEmpty() && !text.contains(line.strip()))
                .toList();
        // The heading alone says nothing.
        lines.addAll(alone.size() == 1 && alone.get(0).startsWith("# CHECK") ? List.of() : alone);
        if (!lines.isEmpty()) {
            boolean block = matches.filter(m -> m instanceof SequenceNode s && s.getFlowStyle() == FlowStyle.BLOCK)
                    .isPresent();
            if (matches.isPresent() && !block && !draft.pairs().isEmpty()) {
                throw new ToolException(
                        ErrorKind.JOB_FILE,
                        "the matches stand in brackets, to which nothing can be added",
                        file.toString(),
                        "write each on lines of its own, beginning with a dash");
            }
            if (matches.isEmpty() && !draft.pairs().isEmpty()) {
                lines.add(0, "matches:");
            }
            insert(matches.filter(m -> block).map(m -> lastLine(m) + 1).orElse(lineCount()), lines);
        }
        return build();
    }

    /** What is proposed for one match. */
    public record Proposed(String match, String source, List<Proposal> proposals) {}

    /**
     * The job file with proposals, as comments behind the matches that they are of; one that stands there is not added again.
     *
     * @param run the name of the run that they are from
     */
    public String proposed(String run, List<Proposed> all) {
        Optional<Node> matches = value(root(), "matches");
        for (Proposed one : all) {
            Optional<Node> match = matches.flatMap(m -> item(m, one.match()).or(() -> item(m, one.source())));
            boolean block = match.filter(m -> m instanceof MappingNode map && map.getFlowStyle() == FlowStyle.BLOCK)
                    .isPresent();
            String indent =
                    match.map(m -> " ".repeat(m.getStartMark().getColumn())).orElse("");
            List<String> lines = new ArrayList<>();
            for (Proposal proposal : one.proposals()) {
                if (!text.contains("#   " + ProposalText.entry(proposal) + "\n")) {
                    lines.addAll(ProposalText.lines(proposal, run));
                }
            }
            if (!lines.isEmpty() && !block) {
                lines.add(0, "# CHECK for the match " + DraftText.oneLine(one.match()) + ":");
            }
            lines.replaceAll(line -> indent + line);
            if (!lines.isEmpty()) {
                insert(match.map(m -> lastLine(m) + 1).orElse(lineCount()), lines);
            }
        }
        return build();
    }

    private MappingNode root() {
        return (MappingNode) new org.yaml.snakeyaml.Yaml().compose(new StringReader(text));
    }

    private static Optional<Node> value(Node mapping, String key) {
        return mapping instanceof MappingNode map
                ? map.getValue().stream()
                        .filter(t -> t.getKeyNode() instanceof ScalarNode k
                                && k.getValue().equals(key))
                        .map(NodeTuple::getValueNode)
                        .findFirst()
                : Optional.empty();
    }

    private static Optional<Node> item(Node matches, String source) {
        return matches instanceof SequenceNode list
                ? list.getValue().stream()
                        .filter(m -> Stream.of("name", "source")
                                .flatMap(key -> value(m, key).stream())
                                .anyMatch(s -> s instanceof ScalarNode name
                                        && name.getValue().equalsIgnoreCase(source)))
                        .findFirst()
                : Optional.empty();
    }

    private void addColumns(Node match, NewColumns added) {
        String indent = " ".repeat(match.getStartMark().getColumn());
        Optional<SequenceNode> list = value(match, "columns")
                .filter(SequenceNode.class::isInstance)
                .map(SequenceNode.class::cast)
                .filter(s ->
                        s.getFlowStyle() == FlowStyle.BLOCK && !s.getValue().isEmpty());
        List<String> entries = new ArrayList<>();
        added.pair()
                .columns()
                .forEach(c -> writer.column(c, list.map(DraftUpdate::indentOf).orElse(indent + "  "), entries));
        if (!entries.isEmpty()) {
            boolean inBrackets = value(match, "columns").isPresent() && list.isEmpty();
            if (inBrackets || match instanceof MappingNode m && m.getFlowStyle() == FlowStyle.FLOW) {
                entries.replaceAll(e -> indent + "# CHECK add to columns: " + e.strip());
            } else if (list.isEmpty()) {
                entries.add(0, indent + "columns:");
            }
            insert(list.map(l -> lastLine(l) + 1).orElse(lastLine(match) + 1), entries);
        }
        List<String> remarks = new ArrayList<>();
        added.pair()
                .sourceOnly()
                .forEach(c -> remarks.add("# CHECK new in the source only, not compared: " + c.name()));
        added.pair()
                .targetOnly()
                .forEach(c -> remarks.add("# CHECK new in the target only, not compared: " + c.name()));
        remarks.removeIf(r -> text.contains(r) || isToldOf(r.substring(r.lastIndexOf(' ') + 1)));
        remarks.replaceAll(r -> indent + DraftText.oneLine(r));
        if (!remarks.isEmpty()) {
            insert(lastLine(match) + 1, remarks);
        }
    }

    /** Whether an earlier draft has told of a column in a comment. */
    private boolean isToldOf(String column) {
        return text.lines()
                .filter(l -> l.contains("only, not compared: "))
                .anyMatch(l -> Arrays.asList(
                                l.substring(l.indexOf("compared: ") + 10).split(", "))
                        .contains(column));
    }

    /** The line on which a node ends, from 0; the parser's end mark stands at the beginning of what follows. */
    private static int lastLine(Node node) {
        if (node instanceof SequenceNode list && !list.getValue().isEmpty() && list.getFlowStyle() == FlowStyle.BLOCK) {
            return lastLine(list.getValue().get(list.getValue().size() - 1));
        }
        if (node instanceof MappingNode map && !map.getValue().isEmpty() && map.getFlowStyle() == FlowStyle.BLOCK) {
            return lastLine(map.getValue().get(map.getValue().size() - 1).getValueNode());
        }
        boolean atStartOfNext = node.getEndMark().getColumn() == 0
                && node.getEndMark().getLine() > node.getStartMark().getLine();
        return node.getEndMark().getLine() - (atStartOfNext ? 1 : 0);
    }

    private static String indentOf(Node list) {
        // The mark of a list in block form is at its first dash.
        return " ".repeat(list.getStartMark().getColumn());
    }

    private int lineCount() {
        return (int) text.lines().count();
    }

    private void insert(int line, List<String> lines) {
        List<String> there = insertions.computeIfAbsent(line, l -> new ArrayList<>());
        there.addAll(lines);
    }

    private String build() {
        List<String> lines = new ArrayList<>(text.lines().toList());
        insertions.forEach((line, added) -> lines.addAll(Math.min(line, lines.size()), added));
        return String.join("\n", lines) + "\n";
    }
}
