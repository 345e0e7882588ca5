package sharptally.formats.job;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.NodeTuple;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;
import org.yaml.snakeyaml.nodes.Tag;
import sharptally.core.match.text.Nearest;

/**
 * A mapping of a YAML file being read. Whatever is not as it should be is noted with its line and column, and reading
 * goes on with what is left, so that all problems are told at once.
 */
final class YamlMap {
    private final Context context;
    private final Node node;
    private final Map<String, NodeTuple> entries = new LinkedHashMap<>();

    /**
     * What all mappings of one file share.
     *
     * @param scalars what is made of each scalar's text, variables being replaced
     * @param problems what is wrong so far
     */
    record Context(Path file, UnaryOperator<String> scalars, List<String> problems) {
        void problem(Node where, String text) {
            problems.add(file + ", line " + (where.getStartMark().getLine() + 1) + ", column "
                    + (where.getStartMark().getColumn() + 1) + ": " + text);
        }
    }

    private YamlMap(Context context, Node node, Set<String> known, Set<String> seen) {
        this.context = context;
        this.node = node;
        if (!(node instanceof MappingNode mapping)) {
            context.problem(node, "here should be a mapping with " + String.join(", ", known));
            return;
        }
        for (NodeTuple tuple : mapping.getValue()) {
            if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
                context.problem(tuple.getKeyNode(), "a key should be a word");
                continue;
            }
            if (entries.put(key.getValue(), tuple) != null) {
                context.problem(key, "the key " + key.getValue() + " stands twice");
            } else if (!known.isEmpty() && !known.contains(key.getValue())) {
                entries.remove(key.getValue());
                context.problem(key, "no such key: " + key.getValue() + "; " + Nearest.question(key.getValue(), known));
            }
        }
        seen.addAll(known);
    }

    /**
     * @param known the keys that there may be; others are problems
     */
    static YamlMap of(Context context, Node node, Set<String> known) {
        return new YamlMap(context, node, known, new java.util.HashSet<>());
    }

    /** A mapping whose keys are the user's own. */
    static YamlMap open(Context context, Node node) {
        return of(context, node, Set.of());
    }

    Context context() {
        return context;
    }

    /** Notes a problem with the mapping as a whole. */
    void problem(String text) {
        context.problem(node, text);
    }

    /** Notes a problem with one key's value. */
    void problem(String key, String text) {
        context.problem(entries.containsKey(key) ? entries.get(key).getValueNode() : node, text);
    }

    Set<String> keys() {
        return entries.keySet();
    }

    boolean has(String key) {
        return entries.containsKey(key);
    }

    Optional<Node> node(String key) {
        return Optional.ofNullable(entries.get(key)).map(NodeTuple::getValueNode);
    }

    static boolean isNull(Node value) {
        return value.getTag().equals(Tag.NULL);
    }

    /** The text of a key; a mapping or list there is a problem. */
    Optional<String> text(String key) {
        return node(key).flatMap(this::scalar);
    }

    /** What a key of the user's own is, variables being replaced. */
    Optional<String> keyText(String key) {
        return scalar(entries.get(key).getKeyNode());
    }

    private Optional<String> scalar(Node value) {
        if (value instanceof ScalarNode scalar && !isNull(value)) {
            try {
                return Optional.of(context.scalars().apply(scalar.getValue()));
            } catch (IllegalArgumentException e) {
                context.problem(value, e.getMessage());
                return Optional.empty();
            }
        }
        context.problem(value, "here should be a word or a text");
        return Optional.empty();
    }

    /** As {@link #text}, a problem where the key is not there. */
    Optional<String> requiredText(String key) {
        if (!has(key)) {
            problem("the key " + key + " is missing here");
        }
        return text(key);
    }

    /** One text or a list of them; empty where the key is not there. */
    List<String> texts(String key) {
        if (!has(key)) {
            return List.of();
        }
        List<String> texts = new ArrayList<>();
        each(key, item -> scalar(item).ifPresent(texts::add));
        return texts;
    }

    /** Hands on the items of a list, or the one value that stands instead of a list. */
    void each(String key, Consumer<Node> item) {
        node(key).ifPresent(value -> {
            if (value instanceof SequenceNode list) {
                list.getValue().forEach(item);
            } else if (!isNull(value)) {
                item.accept(value);
            }
        });
    }

    /** The mapping at a key, if it is there. */
    Optional<YamlMap> map(String key, String... known) {
        return node(key).map(value -> of(context, value, new java.util.LinkedHashSet<>(Arrays.asList(known))));
    }

    /** Hands on each entry whose value is a text. */
    void eachText(BiConsumer<String, String> entry) {
        entries.forEach((key, tuple) -> scalar(tuple.getValueNode()).ifPresent(text -> entry.accept(key, text)));
    }

    /** What a key's text stands for, where {@code read} understands it; else that is a problem. */
    <T> Optional<T> read(String key, java.util.function.Function<String, Optional<T>> read, String should) {
        return text(key).flatMap(text -> {
            Optional<T> value = read.apply(text);
            if (value.isEmpty()) {
                problem(key, key + " should be " + should + ", not " + text);
            }
            return value;
        });
    }
}
