package sharptally.core.place.part;

import java.util.List;
import java.util.OptionalLong;
import java.util.stream.IntStream;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/**
 * Which checksums to work out over ranges of a table's key.
 *
 * @param columns what goes into the hash of a row, in this order
 * @param key the key's columns
 * @param ranges which rows; disjoint
 * @param step empty to sum each range by itself. Else all ranges together are summed by slices of the key, which is one
 *     whole number then: slice {@code n} holds the keys that give {@code n} when divided by the step, the quotient cut
 *     towards zero
 * @param form how rows are hashed
 */
public record SumsRequest(
        TableShape table,
        List<Hashed> columns,
        List<ColumnShape> key,
        List<KeyRange> ranges,
        OptionalLong step,
        Form form) {
    /** How rows are hashed. */
    public enum Form {
        /** By the form that all engines share; see {@code docs/checksums.md}. */
        COMMON,
        /** By the engine's own hash functions; only for two places of which {@link Checksums#ownForm} says the same. */
        OWN
    }

    /**
     * One column of the hash.
     *
     * @param comparedAs the kind as which its values are compared
     * @param digits digits of a second that are compared
     */
    public record Hashed(ColumnShape column, Kind comparedAs, int digits) {
        /** The key of a sample, with all its digits. */
        public static List<Hashed> of(RowFilter.Sample sample) {
            return IntStream.range(0, sample.key().size())
                    .mapToObj(i -> new Hashed(
                            sample.key().get(i),
                            sample.comparedAs().get(i),
                            sample.key().get(i).type().orElseThrow().digits()))
                    .toList();
        }
    }

    public SumsRequest {
        columns = List.copyOf(columns);
        key = List.copyOf(key);
        ranges = List.copyOf(ranges);
    }

    /** The same over other ranges. */
    public SumsRequest over(List<KeyRange> others, OptionalLong otherStep) {
        return new SumsRequest(table, columns, key, others, otherStep, form);
    }
}
