package sharptally.formats.run;

import java.util.List;
import java.util.Optional;
import sharptally.core.compare.PairCounts;
import sharptally.core.match.ColumnPair;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * A column in which changed rows differ.
 *
 * @param column source name
 * @param rows changed rows in which it differs
 * @param examples the first of them in key order, at most three
 */
public record ColumnSummary(String column, long rows, List<Example> examples) {
    private static final int MAX_LETTERS = 120;

    public ColumnSummary {
        examples = List.copyOf(examples);
    }

    /**
     * Both values of one row as people read them: text in quotes, long values cut.
     *
     * @param key the row's key as the source holds it
     */
    public record Example(List<String> key, String source, String target) {
        public Example {
            key = List.copyOf(key);
        }
    }

    /** Empty when the column does not differ. */
    static Optional<ColumnSummary> of(ColumnPair pair, PairCounts counts) {
        return counts.differing() == 0
                ? Optional.empty()
                : Optional.of(new ColumnSummary(
                        pair.name(),
                        counts.differing(),
                        counts.examples().stream()
                                .map(e -> new Example(
                                        e.key().stream()
                                                .map(v -> cut(v.toString()))
                                                .toList(),
                                        shown(e.source().beside(e.target()), pair.comparedAs()),
                                        shown(e.target().beside(e.source()), pair.comparedAs())))
                                .toList()));
    }

    private static String shown(Value value, Kind comparedAs) {
        boolean quoted = value instanceof Value.Text && (comparedAs == Kind.TEXT || comparedAs == Kind.ANY);
        String text = cut(value.toString());
        return quoted ? "'" + text + "'" : text;
    }

    private static String cut(String text) {
        return text.codePointCount(0, text.length()) <= MAX_LETTERS
                ? text
                : text.substring(0, text.offsetByCodePoints(0, MAX_LETTERS)) + "…";
    }
}
