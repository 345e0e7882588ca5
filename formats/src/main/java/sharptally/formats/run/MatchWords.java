package sharptally.formats.run;

import java.util.List;

/**
 * What a run keeps of a match in words, a sentence each.
 *
 * @param shape how the shapes of the two tables differ
 * @param notCompared columns that should have been compared and were not, with the reason
 * @param notes what else is worth knowing
 * @param narrowed why not all rows of the tables are compared
 */
public record MatchWords(List<String> shape, List<String> notCompared, List<String> notes, List<String> narrowed) {
    static final MatchWords NONE = new MatchWords(List.of(), List.of(), List.of(), List.of());
}
