package sharptally.core.match.request;

import java.util.List;
import sharptally.core.shape.ColumnShape;

/**
 * Columns of either side that are not to be compared.
 *
 * @param here those of this match
 * @param usually those of any match that has them
 * @param keep columns that are compared though {@code usually} names them
 */
public record LeftOutColumns(List<ColumnChoice> here, List<ColumnChoice> usually, List<String> keep) {
    public static final LeftOutColumns NONE = new LeftOutColumns(List.of(), List.of(), List.of());

    public LeftOutColumns {
        here = List.copyOf(here);
        usually = List.copyOf(usually);
        keep = List.copyOf(keep);
    }

    public static LeftOutColumns of(List<ColumnChoice> columns) {
        return new LeftOutColumns(columns, List.of(), List.of());
    }

    /** Whether a column is left out by what was asked for. */
    public boolean includes(ColumnShape column) {
        return here.stream().anyMatch(choice -> choice.includes(column))
                || usually.stream().anyMatch(choice -> choice.includes(column))
                        && keep.stream().noneMatch(k -> k.equalsIgnoreCase(column.name()));
    }
}
