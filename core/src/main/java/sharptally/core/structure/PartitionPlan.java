package sharptally.core.structure;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.MatchNote;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.TypedText;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Partitioning;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * A match cut into the partitions that one of its databases declares, and one of all rows outside of them, by conditions that
 * both databases understand: each row of either side is in exactly one. How the other side divides its rows, if at all, is of
 * no account.
 */
public final class PartitionPlan {
    /** What the part of all rows that are in no partition goes by. */
    public static final String OTHERS = "others";

    private static final Set<Kind> NUMBERS = Set.of(Kind.INTEGER, Kind.DECIMAL);
    private static final Set<Kind> KINDS =
            Set.of(Kind.INTEGER, Kind.DECIMAL, Kind.DATE, Kind.TIMESTAMP, Kind.INSTANT, Kind.TEXT);
    private static final Pattern MIDNIGHT = Pattern.compile("(\\d{4,}-\\d\\d-\\d\\d) 00:00:00(\\.0+)?");

    private final TableMatch match;
    private final Partitioning declared;
    private final Side side;

    private PartitionPlan(TableMatch match, Partitioning declared, Side side) {
        this.match = match;
        this.declared = declared;
        this.side = side;
    }

    /**
     * The parts, in the order in which they are declared; the match itself, with a note, where it can't be divided.
     *
     * @param side whose database declares them
     */
    public static List<TableMatch> of(TableMatch match, Partitioning declared, Side side) {
        PartitionPlan plan = new PartitionPlan(match, declared, side);
        Optional<String> why = plan.obstacle();
        if (why.isPresent()) {
            return List.of(match.noting(new MatchNote.Undivided(why.get())));
        }
        try {
            return plan.parts();
        } catch (ToolException e) {
            return List.of(
                    match.noting(new MatchNote.Undivided("a bound of its partitions is not understood: " + e.where())));
        }
    }

    private Optional<String> obstacle() {
        if (!declared.untold().isEmpty()) {
            return Optional.of(declared.untold());
        }
        if (match.source().refersToItself() || match.target().refersToItself()) {
            return Optional.of("its rows refer to others of the table, which may be in another partition");
        }
        Optional<ColumnPair> pair = pair();
        if (pair.isEmpty()) {
            return Optional.of("its partitions are by " + declared.column() + ", which is not compared");
        }
        String column = pair.get().name();
        if (!match.wholeRow() && !match.keyPairs().contains(pair.get())) {
            return Optional.of("its partitions are by " + column
                    + ", which is not of the key: a row that moved would be told as missing here and extra there");
        }
        boolean otherwise = match.differences().stream()
                .anyMatch(d ->
                        d instanceof ShapeDifference.Zone zone && zone.column().equals(column)
                                || d instanceof ShapeDifference.Digits digits
                                        && digits.column().equals(column));
        Optional<Kind> source = kind(pair.get().source());
        Optional<Kind> target = kind(pair.get().target());
        boolean alike = source.isPresent() && source.equals(target)
                || source.filter(NUMBERS::contains).isPresent()
                        && target.filter(NUMBERS::contains).isPresent();
        if (source.isEmpty() || target.isEmpty()) {
            return Optional.of(
                    "its partitions are by " + column + ", on whose type no condition is written for both sides");
        }
        if (otherwise || !alike || !pair.get().rules().isEmpty()) {
            return Optional.of("its partitions are by " + column
                    + ", which has another type on either side, or is compared by a rule");
        }
        return Optional.empty();
    }

    private Optional<ColumnPair> pair() {
        return table().column(declared.column())
                .flatMap(column -> match.pairs().stream()
                        .filter(p -> (side == Side.SOURCE ? p.source() : p.target())
                                .name()
                                .equals(column.name()))
                        .findFirst());
    }

    private static Optional<Kind> kind(ColumnShape column) {
        return column.expression().isPresent()
                ? Optional.empty()
                : column.type().map(type -> type.kind()).filter(KINDS::contains);
    }

    private List<TableMatch> parts() {
        ColumnPair pair = pair().orElseThrow();
        List<TableMatch> parts = new ArrayList<>();
        Set<String> names = new HashSet<>();
        List<Partitioning.Values> all = new ArrayList<>();
        boolean nulls = false;
        for (Partitioning.Part part : declared.parts()) {
            parts.add(part(name(part, names), pair, part.values(), part.nulls(), false));
            all.addAll(part.values());
            nulls |= part.nulls();
        }
        names.add(OTHERS);
        parts.add(part(OTHERS, pair, all, nulls, true));
        return parts;
    }

    /** Without the table's own name before it, as many have it. */
    private String name(Partitioning.Part part, Set<String> names) {
        String start = table().name().name().toLowerCase(Locale.ROOT) + "_";
        String bare = part.name().toLowerCase(Locale.ROOT).startsWith(start)
                        && part.name().length() > start.length()
                ? part.name().substring(start.length())
                : part.name();
        String free = bare.equals(OTHERS) || !names.add(bare) ? part.name() : bare;
        names.add(free);
        return free;
    }

    private TableShape table() {
        return side == Side.SOURCE ? match.source() : match.target();
    }

    private TableMatch part(
            String name, ColumnPair pair, List<Partitioning.Values> values, boolean nulls, boolean others) {
        return match.partition(
                name,
                match.source().and(filter(pair.source(), values, nulls, others)),
                match.target().and(filter(pair.target(), values, nulls, others)));
    }

    private static RowFilter filter(
            ColumnShape column, List<Partitioning.Values> values, boolean nulls, boolean others) {
        return new RowFilter.Partition(
                column,
                values.stream()
                        .map(v -> new RowFilter.Span(
                                v.from().map(text -> value(column, text)),
                                v.to().map(text -> value(column, text)),
                                v.one()))
                        .toList(),
                nulls,
                others);
    }

    private static Value value(ColumnShape column, String text) {
        Kind kind = column.type().orElseThrow().kind();
        return TypedText.value(
                column, kind == Kind.DATE ? MIDNIGHT.matcher(text).replaceFirst("$1") : text);
    }
}
