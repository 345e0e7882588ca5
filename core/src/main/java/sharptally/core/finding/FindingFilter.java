package sharptally.core.finding;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.KeyText;
import sharptally.core.match.text.Nearest;
import sharptally.core.types.Value;

/**
 * Which findings are wanted; an empty part wants all.
 *
 * @param columns names of columns: changed rows in which one of them differs, and of these only such columns
 * @param keys keys as they are shown, the parts joined by commas
 * @param range keys from one up to but without another, as {@code FROM..TO}
 * @param conditions all of them must be met
 * @param marked all of them must hold it
 */
public record FindingFilter(
        TableFilter tables,
        Set<FindingKind> kinds,
        Set<String> columns,
        Set<String> keys,
        Optional<String> range,
        List<ValueCondition> conditions,
        List<Marked> marked) {
    /** All findings. */
    public static final FindingFilter ALL = of(TableFilter.ALL);

    public FindingFilter {
        kinds = Set.copyOf(kinds);
        columns = Set.copyOf(columns);
        keys = Set.copyOf(keys);
        conditions = List.copyOf(conditions);
        marked = List.copyOf(marked);
    }

    /** All findings of some tables. */
    public static FindingFilter of(TableFilter tables) {
        return new FindingFilter(tables, Set.of(), Set.of(), Set.of(), Optional.empty(), List.of(), List.of());
    }

    /** Whether it wants all findings. */
    public boolean wantsAll() {
        return tables.wantsAll() && wantsAllRows();
    }

    /** Whether all findings of the tables that are wanted are. */
    public boolean wantsAllRows() {
        return kinds.isEmpty()
                && columns.isEmpty()
                && keys.isEmpty()
                && range.isEmpty()
                && conditions.isEmpty()
                && marked.isEmpty();
    }

    /** Whether findings of this match may be wanted. */
    public boolean wants(TableMatch match) {
        return tables.wants(match);
    }

    public boolean wants(TableMatch match, Finding finding) {
        return wants(match)
                && (kinds.isEmpty() || kinds.contains(finding.kind()))
                && (keys.isEmpty() || keys.contains(keyText(finding.key())))
                && (columns.isEmpty()
                        || finding instanceof Finding.Changed changed
                                && changed.differences().stream().anyMatch(d -> wants(match, d)))
                && (range.isEmpty() || KeyText.range(match, range.get()).holds(finding.key()))
                && conditions.stream().allMatch(c -> c.isMet(match, finding))
                && marked.stream().allMatch(m -> m.holds(match, finding));
    }

    /** The finding with only the columns that are wanted; empty when it is not wanted. */
    public Optional<Finding> chosen(TableMatch match, Finding finding) {
        if (!wants(match, finding)) {
            return Optional.empty();
        }
        if (columns.isEmpty() || !(finding instanceof Finding.Changed changed)) {
            return Optional.of(finding);
        }
        List<Difference> differences =
                changed.differences().stream().filter(d -> wants(match, d)).toList();
        // What is not wanted is not touched, but the row is known by it all the same.
        List<Difference> others = Stream.concat(
                        changed.differences().stream().filter(d -> !wants(match, d)), changed.same().stream())
                .sorted(Comparator.comparingInt(Difference::pair))
                .toList();
        return Optional.of(
                new Finding.Changed(changed.key(), changed.targetKey(), differences, others, changed.positions()));
    }

    /** Whether this column of a changed row is wanted. */
    public boolean wants(TableMatch match, Difference difference) {
        var pair = match.pairs().get(difference.pair());
        return columns.isEmpty()
                || columns.stream()
                        .anyMatch(c -> c.equalsIgnoreCase(pair.source().name())
                                || c.equalsIgnoreCase(pair.target().name()));
    }

    /** Whether the match has the columns that are asked for. */
    public boolean hasColumns(TableMatch match) {
        return (columns.isEmpty()
                        || IntStream.range(0, match.pairs().size())
                                .anyMatch(i -> wants(match, new Difference(i, Value.NULL, Value.NULL))))
                && conditions.stream().allMatch(c -> c.isOf(match));
    }

    /**
     * @throws ToolException when there is no match, or no column, of a name that is asked for
     */
    public void check(List<TableMatch> matches) {
        tables.check(matches);
        checkColumns(matches);
    }

    /**
     * The same, though there may be no match that is wanted.
     *
     * @throws ToolException when no match that is wanted has a column that is asked for
     */
    public void checkColumns(List<TableMatch> all) {
        List<TableMatch> matches = all.stream().filter(this::wants).toList();
        if (!matches.isEmpty() && matches.stream().noneMatch(this::hasColumns)) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no such column among the compared ones",
                    Stream.concat(columns.stream(), conditions.stream().map(ValueCondition::column))
                            .collect(Collectors.joining(", ")),
                    Nearest.hint(
                            Stream.concat(columns.stream(), conditions.stream().map(ValueCondition::column))
                                    .filter(c -> matches.stream().noneMatch(m -> has(m, c)))
                                    .findFirst()
                                    .orElse(""),
                            matches.stream()
                                    .flatMap(m -> m.pairs().stream())
                                    .map(ColumnPair::name)
                                    .distinct()
                                    .toList(),
                            "compared are: "));
        }
        range.ifPresent(r -> matches.forEach(m -> KeyText.range(m, r)));
        matches.forEach(m -> conditions.forEach(c -> c.check(m)));
    }

    private static boolean has(TableMatch match, String column) {
        return match.pairs().stream()
                .anyMatch(p -> p.source().name().equalsIgnoreCase(column)
                        || p.target().name().equalsIgnoreCase(column));
    }

    public static String keyText(List<Value> key) {
        return key.stream().map(Value::toString).collect(Collectors.joining(","));
    }
}
