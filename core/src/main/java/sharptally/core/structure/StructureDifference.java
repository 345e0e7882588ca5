package sharptally.core.structure;

import java.util.List;
import sharptally.core.shape.Declaration;

/**
 * What one side declares and the other does not, or in another way.
 *
 * @param columns by the source's names, where the source has it
 * @param source what stands there; empty where nothing does
 * @param target the same of the target
 * @param meaning what it means for the data, a sentence
 */
public record StructureDifference(
        String match, Declaration.Sort sort, List<String> columns, String source, String target, String meaning) {
    public StructureDifference {
        columns = List.copyOf(columns);
    }

    /** What is declared otherwise, in words. */
    public String words() {
        return sort == Declaration.Sort.DEFAULT || sort == Declaration.Sort.NUMBERING
                ? sort.words() + " of " + String.join(", ", columns)
                : sort.words();
    }
}
