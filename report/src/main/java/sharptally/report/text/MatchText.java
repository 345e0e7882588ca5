package sharptally.report.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.match.MatchNote;
import sharptally.core.match.ShapeDifference;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.MatchSummary;

/** What is to be said of a match, a sentence each. */
public final class MatchText {
    private static final int MOST_COLUMNS = 4;

    private MatchText() {}

    public static MatchSummary.Words words(TableMatch match) {
        List<String> notCompared = match.differences().stream()
                .filter(ShapeDifference::leavesUnproved)
                .map(MatchText::told)
                .toList();
        List<String> shape = match.differences().stream()
                .filter(d -> !d.leavesUnproved() && !(d instanceof ShapeDifference.OnOneSide))
                .map(MatchText::told)
                .toList();
        List<String> narrowed = new ArrayList<>(conditions(Side.SOURCE, match.source()));
        narrowed.addAll(conditions(Side.TARGET, match.target()));
        return new MatchSummary.Words(shape, notCompared, notes(match), narrowed);
    }

    /** The rules by which values of the match are compared, with their columns. */
    public static List<String> rules(TableMatch match) {
        return match.notes().stream()
                .filter(MatchNote.ByRule.class::isInstance)
                .map(note -> ((MatchNote.ByRule) note).rule() + " ("
                        + String.join(", ", ((MatchNote.ByRule) note).columns()) + ")")
                .toList();
    }

    private static String told(ShapeDifference difference) {
        if (difference instanceof ShapeDifference.OnOneSide one) {
            return "column " + one.column() + " is in the " + one.side() + " only";
        }
        if (difference instanceof ShapeDifference.Unseen unseen) {
            return "column " + unseen.column() + ": can't be told: " + unseen.why();
        }
        if (difference instanceof ShapeDifference.Incomparable two) {
            return "column " + two.column() + ": no faithful way to compare " + two.sourceType() + " with "
                    + two.targetType();
        }
        if (difference instanceof ShapeDifference.Type type) {
            return types(type.column(), type.sourceType(), type.targetType()) + "as "
                    + type.comparedAs().name().toLowerCase(Locale.ROOT);
        }
        if (difference instanceof ShapeDifference.Zone zone) {
            return types(zone.column(), zone.sourceType(), zone.targetType())
                    + "as instants, times without zone being taken as UTC";
        }
        if (difference instanceof ShapeDifference.Digits digits) {
            return types(digits.column(), digits.sourceType(), digits.targetType()) + "to " + digits.compared()
                    + " digits of a second";
        }
        if (difference instanceof ShapeDifference.Length length) {
            return "column " + length.column() + " holds up to " + length.source() + " in the source, "
                    + length.target() + " in the target";
        }
        if (difference instanceof ShapeDifference.Nullability can) {
            return "column " + can.column() + " may be NULL in the " + can.nullable() + ", not in the "
                    + can.nullable().other();
        }
        return "the columns stand in another order in the target";
    }

    private static String types(String column, String source, String target) {
        return "column " + column + " is " + declared(source) + " in the source, " + declared(target)
                + " in the target; compared ";
    }

    private static String declared(String type) {
        return type.isBlank() ? "of no declared type" : type;
    }

    private static List<String> notes(TableMatch match) {
        List<String> all = new ArrayList<>();
        List<MatchNote.ByRule> rules = new ArrayList<>();
        for (MatchNote note : match.notes()) {
            if (note instanceof MatchNote.ByRule rule) {
                rules.add(rule);
            } else if (!(note instanceof MatchNote.OfPartition)) {
                all.add(told(note));
            }
        }
        if (!rules.isEmpty()) {
            all.add("compared by rules: " + rules.stream().map(MatchText::told).collect(Collectors.joining(", ")));
        }
        return all;
    }

    private static String told(MatchNote note) {
        if (note instanceof MatchNote.LeftOut out) {
            return "column " + out.column() + " was left out on request";
        }
        if (note instanceof MatchNote.ByRule rule) {
            int columns = rule.columns().size();
            return rule.rule() + " ("
                    + (columns > MOST_COLUMNS ? columns + " columns" : String.join(", ", rule.columns())) + ")";
        }
        if (note instanceof MatchNote.Undivided one) {
            return "compared as one, not by partition: " + one.why();
        }
        if (note instanceof MatchNote.Inherited inherited) {
            return "tables inherit from " + inherited.table() + ": only the rows of its own are compared here";
        }
        List<String> nullable = ((MatchNote.NoKey) note).nullable();
        return "no key: whole rows are counted; a changed row shows as one missing and one extra"
                + " (name a key if there is one)"
                + (nullable.isEmpty()
                        ? ""
                        : "; unique (" + String.join(", ", nullable)
                                + ") may be NULL, and so is not taken for one by itself");
    }

    /** Which rows those of a partition are; empty where it is of none. */
    public static Optional<String> partition(TableMatch match) {
        return match.source().filters().stream()
                .filter(RowFilter.Partition.class::isInstance)
                .map(filter -> partition((RowFilter.Partition) filter))
                .findFirst();
    }

    private static String partition(RowFilter.Partition partition) {
        List<String> spans = new ArrayList<>();
        for (RowFilter.Span span : partition.spans()) {
            if (span.closed()) {
                spans.add("= " + span.from().orElseThrow());
            } else {
                String from = span.from().map(value -> "from " + value).orElse("");
                String to = span.to().map(value -> "up to but without " + value).orElse("");
                spans.add(span.from().isEmpty() && span.to().isEmpty() ? "any" : (from + " " + to).strip());
            }
        }
        if (partition.nulls()) {
            spans.add("NULL");
        }
        return "only those whose " + partition.column().name() + " is " + (partition.others() ? "none of: " : "")
                + String.join(", ", spans);
    }

    private static List<String> conditions(Side side, TableShape table) {
        return table.filters().stream()
                .filter(RowFilter.Condition.class::isInstance)
                .map(filter -> "of the " + side + " only rows with " + ((RowFilter.Condition) filter).text())
                .toList();
    }
}
