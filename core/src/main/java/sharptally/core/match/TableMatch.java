package sharptally.core.match;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;

/**
 * One source table compared with one target table, with everything decided.
 *
 * @param name by which results, files and filters speak of the match
 * @param pairs the columns that are compared
 * @param key places in {@code pairs} of the key's columns, in key order; empty when the whole row is the key
 * @param sourceOnly columns of the source that have no counterpart or were left out; not read
 * @param targetOnly the same of the target; they are read, so that an extra row can be put back after its removal
 * @param differences in what the two tables are declared in different ways
 * @param notes what else is worth knowing
 */
public record TableMatch(
        String name,
        TableShape source,
        TableShape target,
        List<ColumnPair> pairs,
        List<Integer> key,
        List<ColumnShape> sourceOnly,
        List<ColumnShape> targetOnly,
        List<ShapeDifference> differences,
        List<MatchNote> notes) {
    /** Between the name of a match and that of a partition. */
    public static final String PARTITION_SIGN = "/";

    public TableMatch {
        pairs = List.copyOf(pairs);
        key = List.copyOf(key);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
        differences = List.copyOf(differences);
        notes = List.copyOf(notes);
        for (int place : key) {
            if (place < 0 || place >= pairs.size()) {
                throw new IllegalArgumentException("no column of the key at place " + place);
            }
        }
    }

    /** The same match over other rows of the two tables. */
    public TableMatch over(TableShape ofSource, TableShape ofTarget) {
        return new TableMatch(name, ofSource, ofTarget, pairs, key, sourceOnly, targetOnly, differences, notes);
    }

    /** The match of all partitions, where this is one of them. */
    public Optional<String> partitionOf() {
        return notes.stream()
                .filter(MatchNote.OfPartition.class::isInstance)
                .map(note -> ((MatchNote.OfPartition) note).of())
                .findFirst();
    }

    /** The rows of one partition, by a name of its own. */
    public TableMatch partition(String part, TableShape ofSource, TableShape ofTarget) {
        return noting(new MatchNote.OfPartition(name), name + PARTITION_SIGN + part)
                .over(ofSource, ofTarget);
    }

    /** The same match, and something more worth knowing. */
    public TableMatch noting(MatchNote note) {
        return noting(note, name);
    }

    private TableMatch noting(MatchNote note, String called) {
        return new TableMatch(
                called,
                source,
                target,
                pairs,
                key,
                sourceOnly,
                targetOnly,
                differences,
                Stream.concat(notes.stream(), Stream.of(note)).toList());
    }

    /** The match of all partitions; itself where it is of none. */
    public TableMatch whole() {
        return partitionOf()
                .map(whole -> new TableMatch(
                        whole,
                        source.ofAllPartitions(),
                        target.ofAllPartitions(),
                        pairs,
                        key,
                        sourceOnly,
                        targetOnly,
                        differences,
                        notes.stream()
                                .filter(note -> !(note instanceof MatchNote.OfPartition))
                                .toList()))
                .orElse(this);
    }

    /** The same match in which some columns that seem to be on one side only may just be hidden on the other. */
    TableMatch hiding(Map<ShapeDifference.OnOneSide, ShapeDifference.Unseen> unseen) {
        List<ShapeDifference> all = differences.stream()
                .map(d -> unseen.containsKey(d) ? unseen.get(d) : d)
                .toList();
        return new TableMatch(name, source, target, pairs, key, sourceOnly, targetOnly, all, notes);
    }

    /**
     * The same match with the target as its source, so that it is the source that is to be changed. Columns that only the
     * source has were not read; so they stand as ones that can't be.
     */
    public TableMatch reversed() {
        List<ColumnShape> unread = sourceOnly.stream()
                .map(c -> new ColumnShape(
                        c.name(), c.declaredType(), Optional.empty(), c.nullable(), c.generation(), c.collation()))
                .toList();
        return new TableMatch(
                name,
                target,
                source,
                pairs.stream().map(ColumnPair::reversed).toList(),
                key,
                targetOnly,
                unread,
                differences.stream().map(ShapeDifference::reversed).toList(),
                notes);
    }

    /** The columns that have no counterpart, and were not left out on request. */
    public List<ShapeDifference.OnOneSide> lone() {
        return of(ShapeDifference.OnOneSide.class);
    }

    private <T extends ShapeDifference> List<T> of(Class<T> kind) {
        return differences.stream().filter(kind::isInstance).map(kind::cast).toList();
    }

    /** Whether every column that the user did not leave out is compared. */
    public boolean comparesAll() {
        return differences.stream().noneMatch(ShapeDifference::leavesUnproved);
    }

    /** Whether a rule translates values from the source to the target, which can't be done the other way round. */
    public boolean translates() {
        return pairs.stream().anyMatch(p -> p.toRuleSet().translates());
    }

    /** Why no row of the target can be changed by what was found here; empty when rows can be. */
    public Optional<String> notWritable() {
        if (target.query().isPresent()) {
            return Optional.of("its target is a query");
        }
        if (target.view()) {
            return Optional.of("its target is a view");
        }
        return keyPairs().stream()
                .filter(p -> p.target().expression().isPresent())
                .findFirst()
                .map(p -> "its key is computed in the target (" + p.target().name() + ")");
    }

    /** Columns that were left out because the user asked for it; one of both sides stands for both. */
    public List<String> leftOut() {
        Set<String> untold = new HashSet<>();
        of(ShapeDifference.OnOneSide.class).forEach(d -> untold.add(d.column()));
        of(ShapeDifference.Unseen.class).forEach(d -> untold.add(d.column()));
        of(ShapeDifference.Incomparable.class).forEach(d -> untold.add(d.column()));
        Map<String, String> names = new LinkedHashMap<>();
        Stream.concat(sourceOnly.stream(), targetOnly.stream())
                .map(ColumnShape::name)
                .filter(name -> !untold.contains(name))
                .forEach(name -> names.putIfAbsent(name.toLowerCase(java.util.Locale.ROOT), name));
        return List.copyOf(names.values());
    }

    public boolean wholeRow() {
        return key.isEmpty();
    }

    public List<ColumnPair> keyPairs() {
        return key.stream().map(pairs::get).toList();
    }

    /** Columns as they are read from the source, and as they stand in a missing row. */
    public List<ColumnShape> sourceColumns() {
        return pairs.stream().map(ColumnPair::source).toList();
    }

    /** Columns as they are read from the target, and as they stand in an extra row. */
    public List<ColumnShape> targetColumns() {
        return Stream.concat(
                        pairs.stream().map(ColumnPair::target),
                        targetOnly.stream().filter(c -> c.type().isPresent()))
                .toList();
    }

    /** What is read of a side: its columns, and behind them, where the table tells it, the position of each row. */
    public List<ColumnShape> readColumns(Side side) {
        List<ColumnShape> columns = side == Side.SOURCE ? sourceColumns() : targetColumns();
        Optional<ColumnShape> position = (side == Side.SOURCE ? source : target).position();
        return Stream.concat(columns.stream(), position.stream()).toList();
    }

    /** Columns of the target that can't be read, so that a deleted row can't be put back with them. */
    public List<ColumnShape> unreadable() {
        return targetOnly.stream().filter(c -> c.type().isEmpty()).toList();
    }

    /** Places in {@code pairs} of the columns outside the key. */
    public int[] valuePairs() {
        return IntStream.range(0, pairs.size()).filter(i -> !key.contains(i)).toArray();
    }
}
