package sharptally.report.findings;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.types.Value;

/**
 * Which findings are wanted; an empty part wants all.
 *
 * @param tables source or target names, letter case aside
 * @param columns names of columns: changed rows in which one of them differs
 * @param keys keys as they are shown, the parts joined by commas
 */
public record FindingFilter(Set<String> tables, Set<FindingKind> kinds, Set<String> columns, Set<String> keys) {
    public FindingFilter {
        tables = Set.copyOf(tables);
        kinds = Set.copyOf(kinds);
        columns = Set.copyOf(columns);
        keys = Set.copyOf(keys);
    }

    public boolean wants(TableMatch match) {
        return tables.isEmpty()
                || tables.stream()
                        .anyMatch(t -> t.equalsIgnoreCase(match.source().name().toString())
                                || t.equalsIgnoreCase(match.source().name().name())
                                || t.equalsIgnoreCase(match.target().name().toString())
                                || t.equalsIgnoreCase(match.target().name().name()));
    }

    public boolean wants(TableMatch match, Finding finding) {
        return (kinds.isEmpty() || kinds.contains(finding.kind()))
                && (keys.isEmpty() || keys.contains(keyText(finding.key())))
                && (columns.isEmpty()
                        || finding instanceof Finding.Changed changed
                                && changed.differences().stream().anyMatch(d -> wants(match, d)));
    }

    /** Whether this column of a changed row is wanted. */
    public boolean wants(TableMatch match, Difference difference) {
        var pair = match.pairs().get(difference.pair());
        return columns.isEmpty()
                || columns.stream()
                        .anyMatch(c -> c.equalsIgnoreCase(pair.source().name())
                                || c.equalsIgnoreCase(pair.target().name()));
    }

    /** Whether the match has one of the wanted columns. */
    public boolean hasColumn(TableMatch match) {
        return columns.isEmpty()
                || java.util.stream.IntStream.range(0, match.pairs().size())
                        .anyMatch(i -> wants(match, new Difference(i, Value.NULL, Value.NULL)));
    }

    public static String keyText(List<Value> key) {
        return key.stream().map(Value::toString).collect(Collectors.joining(","));
    }
}
