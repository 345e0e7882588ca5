package sharptally.core.match;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import sharptally.core.place.Side;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Finds in what the declarations of two tables differ. */
public final class ShapeDifferences {
    private static final Pattern LENGTH = Pattern.compile("\\((\\d{1,18})\\)");

    private ShapeDifferences() {}

    /** Of the types of two columns. */
    static void ofTypes(ColumnPair pair, List<ShapeDifference> differences) {
        ColumnShape column = pair.source();
        ColumnShape other = pair.target();
        Kind kind = pair.comparedAs();
        boolean untyped = column.type().orElseThrow().kind() == Kind.ANY
                || other.type().orElseThrow().kind() == Kind.ANY;
        CanonicalType one = column.type().orElseThrow();
        CanonicalType two = other.type().orElseThrow();
        boolean zoneless = kind == Kind.INSTANT
                && (one.kind() == Kind.TIMESTAMP || two.kind() == Kind.TIMESTAMP)
                && pair.rules().stream().noneMatch(Rule.Zone.class::isInstance);
        if (zoneless) {
            differences.add(new ShapeDifference.Zone(column.name(), column.declaredType(), other.declaredType()));
        }
        if (isWritten(column)
                || isWritten(other)
                || untyped && column.declaredType().equalsIgnoreCase(other.declaredType())) {
            return;
        }
        if (!zoneless && (one.kind() != two.kind() || one.padded() != two.padded())) {
            differences.add(new ShapeDifference.Type(column.name(), column.declaredType(), other.declaredType(), kind));
        }
        boolean times = kind == Kind.TIME || kind == Kind.TIMESTAMP || kind == Kind.INSTANT;
        if (times && one.digits() != two.digits() && one.kind() == two.kind()) {
            differences.add(new ShapeDifference.Digits(
                    column.name(), column.declaredType(), other.declaredType(), Math.min(one.digits(), two.digits())));
        }
    }

    /** Whether a column declares nothing, as those of text files. */
    private static boolean isWritten(ColumnShape column) {
        return column.type().filter(CanonicalType::isWritten).isPresent();
    }

    /** Of length and nullability. */
    static void ofLimits(ColumnShape column, ColumnShape other, List<ShapeDifference> differences) {
        if (isWritten(column) || isWritten(other)) {
            return;
        }
        OptionalLong one = length(column);
        OptionalLong two = length(other);
        if (one.isPresent() && two.isPresent() && one.getAsLong() != two.getAsLong()) {
            differences.add(new ShapeDifference.Length(column.name(), one.getAsLong(), two.getAsLong()));
        }
        if (column.nullable() != other.nullable()) {
            differences.add(
                    new ShapeDifference.Nullability(column.name(), column.nullable() ? Side.SOURCE : Side.TARGET));
        }
    }

    /** The length that a type of text or bytes declares. */
    public static OptionalLong length(ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        Matcher digits = LENGTH.matcher(column.declaredType());
        return (kind == Kind.TEXT || kind == Kind.BYTES) && digits.find()
                ? OptionalLong.of(Long.parseLong(digits.group(1)))
                : OptionalLong.empty();
    }

    static void ofOrder(TableShape target, List<ColumnPair> pairs, List<ShapeDifference> differences) {
        Map<String, Integer> places = new HashMap<>();
        target.columns().forEach(c -> places.put(c.name(), places.size()));
        boolean inOrder = IntStream.range(1, pairs.size())
                .allMatch(i -> places.get(pairs.get(i - 1).target().name())
                        < places.get(pairs.get(i).target().name()));
        if (!inOrder) {
            differences.add(new ShapeDifference.Order());
        }
    }
}
