package sharptally.core.match.request;

import java.util.List;
import java.util.Optional;
import sharptally.core.place.Extract;

/**
 * What the user says of one match, or of all tables whose names have one form; what is left empty is proposed from the
 * two tables.
 *
 * @param name by which the match goes; empty for the source table's
 * @param key source names of the key's columns; empty to choose one
 * @param columns columns to be paired whatever their names
 * @param rules for the match, the more general first
 * @param pattern whether it stands for all tables whose names have the source's form
 */
public record MatchRequest(
        Optional<String> name,
        Extract source,
        Extract target,
        List<String> key,
        List<PairRequest> columns,
        LeftOutColumns leftOut,
        List<RuleRequest> rules,
        boolean pattern) {
    public MatchRequest {
        key = List.copyOf(key);
        columns = List.copyOf(columns);
        rules = List.copyOf(rules);
    }

    /** Two tables with a key (empty to choose one), and columns to leave out. */
    public static MatchRequest ofTables(String source, String target, List<String> key, List<ColumnChoice> leaveOut) {
        return new MatchRequest(
                Optional.empty(),
                Extract.ofTable(source),
                Extract.ofTable(target),
                key,
                List.of(),
                LeftOutColumns.of(leaveOut),
                List.of(),
                false);
    }

    /** The same wish by a name. */
    public MatchRequest called(String other) {
        return new MatchRequest(Optional.of(other), source, target, key, columns, leftOut, rules, pattern);
    }

    /** The same wish for two tables. */
    public MatchRequest of(String sourceTable, String targetTable) {
        return new MatchRequest(
                Optional.empty(),
                new Extract(sourceTable, Optional.empty(), source.where(), source.computed()),
                new Extract(targetTable, Optional.empty(), target.where(), target.computed()),
                key,
                columns,
                leftOut,
                rules,
                false);
    }
}
