package sharptally.api;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * One row that differs. Values are those that the sides hold: {@code null}, {@code Boolean}, {@code Long},
 * {@code BigDecimal}, {@code Float}, {@code Double}, {@code String}, {@code byte[]}, {@code LocalDate},
 * {@code LocalDateTime}, {@code Instant} or {@code UUID}; times of day and an engine's own types as text.
 *
 * @param table the name of the pair of tables
 * @param key by the source's names; empty where there is no key
 * @param sourceRow of a missing row all columns that were read, of a changed row those that differ; else empty
 * @param targetRow of an extra row all columns that were read, of a changed row those that differ; else empty. Changed
 *     columns go by the source's names on both sides
 * @param times how many such rows one side has more than the other; 1 but for tables without a key
 */
public record RowDifference(
        String table,
        Kind kind,
        Map<String, @Nullable Object> key,
        Map<String, @Nullable Object> sourceRow,
        Map<String, @Nullable Object> targetRow,
        long times) {
    /** In what a row differs. */
    public enum Kind {
        /** Only the source has it. */
        MISSING,
        /** Only the target has it. */
        EXTRA,
        /** Both have its key, with other values. */
        CHANGED,
        /** Its key stands in several rows of a side. */
        REPEATED
    }

    static RowDifference of(TableMatch match, Finding finding) {
        Map<String, @Nullable Object> key =
                named(match.keyPairs().stream().map(ColumnPair::name).toList(), finding.key());
        if (finding instanceof Finding.Missing missing) {
            Map<String, @Nullable Object> row = named(names(match.sourceColumns()), missing.row());
            return new RowDifference(match.name(), Kind.MISSING, key, row, Map.of(), missing.times());
        } else if (finding instanceof Finding.Extra extra) {
            Map<String, @Nullable Object> row = named(names(match.targetColumns()), extra.row());
            return new RowDifference(match.name(), Kind.EXTRA, key, Map.of(), row, extra.times());
        } else if (finding instanceof Finding.Changed changed) {
            List<String> names = new ArrayList<>();
            List<Value> ofSource = new ArrayList<>();
            List<Value> ofTarget = new ArrayList<>();
            for (Difference difference : changed.differences()) {
                names.add(match.pairs().get(difference.pair()).name());
                ofSource.add(difference.source());
                ofTarget.add(difference.target());
            }
            return new RowDifference(
                    match.name(), Kind.CHANGED, key, named(names, ofSource), named(names, ofTarget), 1);
        }
        Finding.Repeated repeated = (Finding.Repeated) finding;
        return new RowDifference(
                match.name(),
                Kind.REPEATED,
                key,
                Map.of(),
                Map.of(),
                Math.max(repeated.inSource(), repeated.inTarget()));
    }

    private static List<String> names(List<ColumnShape> columns) {
        return columns.stream().map(ColumnShape::name).toList();
    }

    private static Map<String, @Nullable Object> named(List<String> names, List<Value> values) {
        Map<String, @Nullable Object> row = new LinkedHashMap<>();
        for (int i = 0; i < Math.min(names.size(), values.size()); i++) {
            row.put(names.get(i), plain(values.get(i)).orElse(null));
        }
        return row;
    }

    private static Optional<Object> plain(Value value) {
        if (value instanceof Value.Null) {
            return Optional.empty();
        } else if (value instanceof Value.Bool v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Int v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Decimal v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Real v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Double v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Bytes v) {
            return Optional.of(v.value().clone());
        } else if (value instanceof Value.Date v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Timestamp v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Instant v) {
            return Optional.of(v.value());
        } else if (value instanceof Value.Uuid v) {
            return Optional.of(v.value());
        }
        return Optional.of(value.toString());
    }
}
