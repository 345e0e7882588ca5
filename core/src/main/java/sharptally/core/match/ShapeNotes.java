package sharptally.core.match;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import sharptally.core.rule.Rule;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/** Says in what the declarations of two tables differ, a sentence each. */
public final class ShapeNotes {
    private static final Pattern LENGTH = Pattern.compile("\\((\\d{1,18})\\)");

    private ShapeNotes() {}

    static void noteTypes(ColumnPair pair, List<String> notes) {
        ColumnShape column = pair.source();
        ColumnShape other = pair.target();
        Kind kind = pair.comparedAs();
        CanonicalType one = column.type().orElseThrow();
        CanonicalType two = other.type().orElseThrow();
        String types = "column " + column.name() + " is " + declared(column) + " in the source, " + declared(other)
                + " in the target; compared ";
        boolean zoneless = kind == Kind.INSTANT
                && (one.kind() == Kind.TIMESTAMP || two.kind() == Kind.TIMESTAMP)
                && pair.rules().stream().noneMatch(Rule.Zone.class::isInstance);
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

    private static String declared(ColumnShape column) {
        return column.declaredType().isBlank() ? "of no declared type" : column.declaredType();
    }

    /** Length and nullability, where they differ. */
    static void noteLimits(ColumnShape column, ColumnShape other, List<String> shape) {
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
    public static OptionalLong length(ColumnShape column) {
        Kind kind = column.type().orElseThrow().kind();
        Matcher digits = LENGTH.matcher(column.declaredType());
        return (kind == Kind.TEXT || kind == Kind.BYTES) && digits.find()
                ? OptionalLong.of(Long.parseLong(digits.group(1)))
                : OptionalLong.empty();
    }

    static void noteOrder(TableShape target, List<ColumnPair> pairs, List<String> shape) {
        Map<String, Integer> places = new HashMap<>();
        target.columns().forEach(c -> places.put(c.name(), places.size()));
        boolean inOrder = IntStream.range(1, pairs.size())
                .allMatch(i -> places.get(pairs.get(i - 1).target().name())
                        < places.get(pairs.get(i).target().name()));
        if (!inOrder) {
            shape.add("the columns stand in another order in the target");
        }
    }
}
