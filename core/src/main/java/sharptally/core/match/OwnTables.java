package sharptally.core.match;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import sharptally.core.shape.TableName;

/** Tables that this program itself has made in a place: its record of results, and rows that it kept before changes. */
public final class OwnTables {
    /** What stands between the name of a table and the suffix of the one in which its rows are kept. */
    public static final String KEPT = "_tally_";

    private static final Set<String> RECORD =
            Set.of("tally_run", "tally_match", "tally_column", "tally_total", "tally_check");

    private OwnTables() {}

    /**
     * Whether a table is one of ours: one of the record, where all of it is there; or one of kept rows, where the table
     * that these are of stands beside it.
     *
     * @param beside all tables of its place
     */
    public static boolean isOwn(TableName table, List<TableName> beside) {
        if (RECORD.contains(folded(table))) {
            return RECORD.stream()
                    .allMatch(name -> beside.stream()
                            .anyMatch(t -> t.schema().equals(table.schema())
                                    && folded(t).equals(name)));
        }
        int end = table.name().indexOf(KEPT);
        return end > 0
                && beside.stream()
                        .anyMatch(t -> t.schema().equals(table.schema())
                                && t.name().equals(table.name().substring(0, end)));
    }

    private static String folded(TableName table) {
        return table.name().toLowerCase(Locale.ROOT);
    }
}
