package sharptally.formats.sheet;

import java.util.List;
import java.util.Optional;

/**
 * A sheet as it stands in its file.
 *
 * @param sheet version of the form
 * @param matches empty for all tables of equal name
 */
public record Sheet(int sheet, String source, String target, Optional<List<Match>> matches) {
    public static final int FORMAT = 1;

    /**
     * @param key source names
     * @param columns pairs whose names differ; other columns are paired by name
     * @param leaveOut columns of either side that are not compared
     */
    public record Match(
            String source,
            Optional<String> target,
            Optional<List<String>> key,
            Optional<List<ColumnNames>> columns,
            Optional<List<String>> leaveOut) {}

    /** One column of each side. */
    public record ColumnNames(String source, String target) {}
}
