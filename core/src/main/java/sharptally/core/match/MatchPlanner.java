package sharptally.core.match;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Decides how tables and columns of two sides belong together. */
public final class MatchPlanner {
    private static final String LEFT_OUT = " was left out on request";

    private static final Pattern LENGTH = Pattern.compile("\\((\\d{1,18})\\)");

    private MatchPlanner() {}

    /** Tables of equal name, and those that have no counterpart. */
    public record TablePairs(List<List<TableName>> pairs, List<TableName> sourceOnly, List<TableName> targetOnly) {}

    /** Pairs tables whose names are equal, letter case aside where that leaves no doubt; in the source's order. */
    public static TablePairs pairTables(List<TableName> source, List<TableName> target) {
        Map<String, List<TableName>> byName = target.stream().collect(Collectors.groupingBy(t -> folded(t.name())));
        List<List<TableName>> pairs = new ArrayList<>();
        List<TableName> sourceOnly = new ArrayList<>();
        Set<TableName> used = new HashSet<>();
        for (TableName table : source) {
            List<TableName> alike = byName.getOrDefault(folded(table.name()), List.of());
            Optional<TableName> counterpart = alike.stream()
                    .filter(t -> t.name().equals(table.name()))
                    .findFirst()
                    .or(() -> alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty())
                    .filter(used::add);
            counterpart.ifPresentOrElse(t -> pairs.add(List.of(table, t)), () -> sourceOnly.add(table));
        }
        return new TablePairs(
                pairs,
                sourceOnly,
                target.stream().filter(t -> !used.contains(t)).toList());
    }

    /**
     * @throws ToolException when the wish names columns that are not there, or nothing is left to compare
     */
    public static TableMatch plan(TableShape source, TableShape target, MatchWish wish) {
        checkNames(source, target, wish);
        List<ColumnPair> pairs = new ArrayList<>();
        List<ColumnShape> sourceOnly = new ArrayList<>();
        List<String> notCompared = new ArrayList<>();
        List<String> shape = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        Set<String> usedTarget = new HashSet<>();
        for (ColumnShape column : source.columns()) {
            Optional<ColumnShape> counterpart = isLeftOut(wish, column)
                    ? Optional.empty()
                    : counterpart(column, target, wish).filter(c -> !isLeftOut(wish, c));
            if (counterpart.isEmpty()) {
                sourceOnly.add(column);
                (isLeftOut(wish, column) ? notes : shape)
                        .add("column " + column.name()
                                + (isLeftOut(wish, column) ? LEFT_OUT : " is in the source only: not compared"));
                continue;
            }
            ColumnShape other = counterpart.get();
            Optional<Kind> kind = column.type()
                    .flatMap(one -> other.type().flatMap(two -> Kind.common(one.kind(), two.kind())))
                    .filter(k -> k != Kind.OTHER || column.type().equals(other.type()));
            if (kind.isEmpty()) {
                notCompared.add("column " + column.name() + ": no faithful way to hold " + column.declaredType()
                        + " against " + other.declaredType());
                sourceOnly.add(column);
                continue;
            }
            usedTarget.add(other.name());
            pairs.add(new ColumnPair(column, other, kind.get()));
            noteTypes(column, other, kind.get(), shape);
            noteLimits(column, other, shape);
        }
        List<ColumnShape> targetOnly = target.columns().stream()
                .filter(c -> !usedTarget.contains(c.name()))
                .toList();
        targetOnly.stream()
                .filter(c -> !isLeftOut(wish, c))
                .filter(c -> notCompared.stream().noneMatch(n -> n.startsWith("column " + c.name() + ":")))
                .forEach(c -> shape.add("column " + c.name() + " is in the target only: not compared"));
        noteOrder(target, pairs, shape);
        if (pairs.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no column of the one table has a counterpart in the other",
                    source.name() + " and " + target.name(),
                    "pair columns in a sheet");
        }
        List<Integer> key = chooseKey(source, target, wish, pairs, notes);
        return new TableMatch(source, target, pairs, key, sourceOnly, targetOnly, notCompared, shape, notes);
    }

    private static void noteTypes(ColumnShape column, ColumnShape other, Kind kind, List<String> notes) {
        CanonicalType one = column.type().orElseThrow();
        CanonicalType two = other.type().orElseThrow();
        String types = "column " + column.name() + " is " + column.declaredType() + " in the source, "
                + other.declaredType() + " in the target; compared ";
        boolean zoneless = kind == Kind.INSTANT && (one.kind() == Kind.TIMESTAMP || two.kind() == Kind.TIMESTAMP);
        if (zoneless) {
            notes.add(types + "as instants, times without zone being taken as UTC");
        } else if (one.kind() != two.kind() || one.padded() != two.padded()) {
            notes.add(types + "as " + kind.name().toLowerCase(Locale.ROOT));
        }
        boolean times = kind == Kind.TIME || kind == Kind.TIMESTAMP || kind == Kind.INSTANT;
        if (times && one.digits() != two.digits() && one.kind() == two.kind()) {
            notes.add(types + "to " + Math.min(one.digits(), two.digits()) + " digits of a second");
        }
    }

    /** Length and nullability, where they differ. */
    private static void noteLimits(ColumnShape column, ColumnShape other, List<String> shape) {
        OptionalLong one = length(column);
        OptionalLong two = length(other);
        if (one.isPresent() && two.isPresent() && one.getAsLong() != two.getAsLong()) {
            shape.add("column " + column.name() + " holds up to " + one.getAsLong() + " in the source, "
                    + two.getAsLong() + " in the target");
        }
        if (column.nullable() != other.nullable()) {
            shape.add("column " + column.name() + " may be NULL in the "
                    + (column.nullable() ? "source, not in the target" : "target, not in the source"));
        }
    }

    /** The length that a type of text or bytes declares. */
    private static OptionalLong length(ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        Matcher digits = LENGTH.matcher(column.declaredType());
        return (kind == Kind.TEXT || kind == Kind.BYTES) && digits.find()
                ? OptionalLong.of(Long.parseLong(digits.group(1)))
                : OptionalLong.empty();
    }

    private static void noteOrder(TableShape target, List<ColumnPair> pairs, List<String> shape) {
        List<ColumnShape> inTarget = pairs.stream().map(ColumnPair::target).toList();
        List<ColumnShape> asDeclared =
                target.columns().stream().filter(inTarget::contains).toList();
        if (!inTarget.equals(asDeclared)) {
            shape.add("the columns stand in another order in the target");
        }
    }

    private static List<Integer> chooseKey(
            TableShape source, TableShape target, MatchWish wish, List<ColumnPair> pairs, List<String> notes) {
        if (!wish.key().isEmpty()) {
            return wish.key().stream()
                    .map(name -> {
                        int place = placeOf(pairs, name, true);
                        if (place < 0) {
                            throw new ToolException(
                                    ErrorKind.USAGE,
                                    "key column is not compared",
                                    source.name() + "." + name,
                                    "choose columns that both sides have");
                        }
                        return place;
                    })
                    .toList();
        }
        // Candidates from best to least; the first one whose columns are all paired is taken.
        Stream<List<Integer>> candidates = Stream.of(true, false)
                .flatMap(strict -> Stream.concat(
                        keysOf(source, strict).map(k -> places(pairs, k, true)),
                        keysOf(target, strict).map(k -> places(pairs, k, false))));
        Optional<List<Integer>> chosen =
                candidates.filter(places -> !places.contains(-1)).findFirst();
        if (chosen.isEmpty()) {
            notes.add("no key: whole rows are counted; a changed row shows as one missing and one extra"
                    + " (name a key with --key if there is one)");
        }
        return chosen.orElse(List.of());
    }

    private static Stream<KeyShape> keysOf(TableShape table, boolean strict) {
        return table.keys().stream().filter(k -> table.holdsUnique(k.columns()) == strict);
    }

    private static List<Integer> places(List<ColumnPair> pairs, KeyShape key, boolean ofSource) {
        return key.columns().stream().map(c -> placeOf(pairs, c, ofSource)).toList();
    }

    private static int placeOf(List<ColumnPair> pairs, String column, boolean ofSource) {
        for (int i = 0; i < pairs.size(); i++) {
            String name = ofSource
                    ? pairs.get(i).source().name()
                    : pairs.get(i).target().name();
            if (name.equalsIgnoreCase(column)) {
                return i;
            }
        }
        return -1;
    }

    private static Optional<ColumnShape> counterpart(ColumnShape column, TableShape target, MatchWish wish) {
        return target.column(wish.columns().getOrDefault(column.name(), column.name()));
    }

    private static boolean isLeftOut(MatchWish wish, ColumnShape column) {
        return wish.leaveOut().stream().anyMatch(name -> name.equalsIgnoreCase(column.name()));
    }

    private static void checkNames(TableShape source, TableShape target, MatchWish wish) {
        List<String> problems = new ArrayList<>();
        Stream.concat(wish.key().stream(), wish.columns().keySet().stream())
                .filter(name -> source.column(name).isEmpty())
                .forEach(name -> problems.add(unknown(name, source)));
        wish.columns().values().stream()
                .filter(name -> target.column(name).isEmpty())
                .forEach(name -> problems.add(unknown(name, target)));
        wish.leaveOut().stream()
                .filter(name ->
                        source.column(name).isEmpty() && target.column(name).isEmpty())
                .forEach(name -> problems.add(unknown(name, source)));
        if (!problems.isEmpty()) {
            throw new ToolException(ErrorKind.USAGE, "no such column", String.join(", ", problems), "");
        }
    }

    private static String unknown(String column, TableShape table) {
        return table.name() + "." + column + " (there are "
                + table.columns().stream().map(ColumnShape::name).collect(Collectors.joining(", ")) + ")";
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }
}
