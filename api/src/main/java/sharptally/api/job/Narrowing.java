package sharptally.api.job;

import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.stream.Sample;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.ValueCondition;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.KeyText;
import sharptally.core.match.text.TypedText;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/**
 * Which rows of each match are compared.
 *
 * @param where a condition in SQL that both databases understand
 * @param keys a range of the key, as {@code FROM..TO}: from the one on, up to but without the other; either may be empty
 * @param sample the share of rows that is compared, chosen by a hash of the key
 * @param changedSince a column and the value from which on rows of either side are compared
 * @param conditions on columns, such as {@code level_m > 5}; all must be met
 * @param byPartition whether each partition is compared by itself
 */
public record Narrowing(
        Optional<String> where,
        Optional<String> keys,
        Optional<Double> sample,
        Optional<ChangedSince> changedSince,
        List<String> conditions,
        boolean byPartition) {
    /** All rows. */
    public static final Narrowing NONE =
            new Narrowing(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), List.of());

    /** Of all partitions together. */
    public Narrowing(
            Optional<String> where,
            Optional<String> keys,
            Optional<Double> sample,
            Optional<ChangedSince> changedSince,
            List<String> conditions) {
        this(where, keys, sample, changedSince, conditions, false);
    }

    public Narrowing {
        conditions = conditions == null ? List.of() : List.copyOf(conditions);
    }

    /** Rows of either side whose value in a column is this one or greater. */
    public record ChangedSince(String column, String value) {}

    /** What the conditions of a resolved job file do not say, or not of every place. */
    Narrowing withoutConditions() {
        return new Narrowing(Optional.empty(), keys, sample, changedSince, conditions, byPartition);
    }

    /** The same, each partition by itself or not. */
    public Narrowing dividing(boolean wanted) {
        return new Narrowing(where, keys, sample, changedSince, conditions, wanted);
    }

    private static final String KEYS = "only keys ";
    private static final String SAMPLE = "a sample: ";
    private static final String SINCE = " on, on either side";

    /**
     * Whether rows were left out that no condition tells from those that were compared.
     *
     * @param narrowed one of the {@link #words} of a run
     */
    static boolean leavesRowsUntold(String narrowed) {
        return narrowed.startsWith(KEYS) || narrowed.startsWith(SAMPLE) || narrowed.endsWith(SINCE);
    }

    /** What rows are left out, in words; empty where none are. */
    public List<String> words() {
        List<String> words = new java.util.ArrayList<>();
        where.ifPresent(w -> words.add("only rows where " + w.replace('\n', ' ')));
        conditions.forEach(c -> words.add("only rows with " + c.replace('\n', ' ')));
        keys.ifPresent(k -> words.add(KEYS + k));
        changedSince.ifPresent(c -> words.add("only rows with " + c.column() + " from " + c.value() + SINCE));
        sample.ifPresent(s -> words.add(SAMPLE + s * 100 + " % of the keys; the other rows were not looked at"));
        return words;
    }

    private static final long SHARES = 1 << 20;

    /**
     * The match with only the rows that are wanted, but for the key range.
     *
     * @throws ToolException when a place does not understand a condition
     */
    TableMatch narrowed(TableMatch match, Place from, Place to) {
        if (changedSince.isPresent()) {
            checkChoosing(from);
            checkChoosing(to);
        }
        TableShape source = match.source();
        TableShape target = match.target();
        if (where.isPresent()) {
            source = filtered(source, where.get(), from);
            target = filtered(target, where.get(), to);
        }
        for (String text : conditions) {
            ValueCondition condition = ValueCondition.parse(text);
            source = source.and(condition.of(match, Side.SOURCE));
            target = target.and(condition.of(match, Side.TARGET));
        }
        if (sample.isPresent()) {
            source = chosenThere(match, from, Side.SOURCE).map(source::and).orElse(source);
            target = chosenThere(match, to, Side.TARGET).map(target::and).orElse(target);
        }
        return match.over(source, target);
    }

    /** Where rows are only read from first to last, nothing finds one by its key. */
    private static void checkChoosing(Place place) {
        if (place.seeking().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "rows of a file can't be looked up by their key, as those that changed since then would have to be",
                    place.address().withoutTable().toString(),
                    Hint.NO_CONDITION);
        }
    }

    /** The sample as a place chooses it; empty where rows are chosen here. */
    private Optional<RowFilter> chosenThere(TableMatch match, Place place, Side side) {
        if (match.wholeRow()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a sample is chosen by the key, and this match has none",
                    match.name(),
                    Hint.CONDITION);
        }
        List<ColumnShape> key = match.keyPairs().stream()
                .map(p -> side == Side.SOURCE ? p.source() : p.target())
                .toList();
        List<Kind> kinds = match.keyPairs().stream().map(ColumnPair::comparedAs).toList();
        RowFilter.Sample rows = new RowFilter.Sample(key, kinds, shares(), SHARES);
        return place.sampling().filter(s -> s.chooses(rows)).map(s -> rows);
    }

    private long shares() {
        return Math.max(1, Math.round(sample.orElseThrow() * SHARES));
    }

    /** The sample as far as it is chosen here. */
    Optional<Sample> sampledHere(TableMatch match, Place from, Place to) {
        if (sample.isEmpty()) {
            return Optional.empty();
        }
        Set<Side> here = EnumSet.noneOf(Side.class);
        if (chosenThere(match, from, Side.SOURCE).isEmpty()) {
            here.add(Side.SOURCE);
        }
        if (chosenThere(match, to, Side.TARGET).isEmpty()) {
            here.add(Side.TARGET);
        }
        return Optional.of(new Sample(shares(), SHARES, here));
    }

    private static TableShape filtered(TableShape table, String condition, Place place) {
        // The place is asked whether it understands the condition.
        try {
            place.describe(
                    new Extract(table.name().toString(), table.query(), Optional.of(condition), java.util.Map.of()));
        } catch (ToolException e) {
            throw e.kind() == ErrorKind.USAGE
                    ? new ToolException(
                            e.kind(),
                            "the condition is refused by " + place.address().withoutTable(),
                            e.where(),
                            Hint.CHECK_CONDITION)
                    : e;
        }
        return table.and(new RowFilter.Condition(condition));
    }

    /** From which value on rows are wanted; empty where that is not asked. */
    Optional<ComparisonSettings.Since> since(TableMatch match) {
        return changedSince.map(wish -> {
            ColumnPair pair = match.pairs().stream()
                    .filter(p -> p.name().equalsIgnoreCase(wish.column())
                            || p.target().name().equalsIgnoreCase(wish.column()))
                    .findFirst()
                    .orElseThrow(() -> usage(
                            "no such column among those that are compared",
                            match.name() + "." + wish.column(),
                            "name a column that both sides have"));
            return new ComparisonSettings.Since(
                    pair.source(),
                    pair.target(),
                    TypedText.value(pair.source(), wish.value()),
                    TypedText.value(pair.target(), wish.value()));
        });
    }

    /** The range of the key. */
    KeyRange range(TableMatch match) {
        if (keys.isEmpty()) {
            return KeyRange.ALL;
        }
        return KeyText.range(match, keys.get());
    }

    private static ToolException usage(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }
}
