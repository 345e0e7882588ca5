package sharptally.core.match;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import sharptally.core.rows.Cast;
import sharptally.core.rule.Rule;
import sharptally.core.rule.RuleSet;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

/**
 * One column of each side, compared with each other as values of one kind. Both have a canonical type.
 *
 * @param rules how values are held equal that are not equal as they stand
 */
public record ColumnPair(ColumnShape source, ColumnShape target, Kind comparedAs, List<Rule> rules) {
    /** The kinds whose values are read out of their writing. */
    private static final Set<Kind> READ = EnumSet.of(
            Kind.BOOLEAN,
            Kind.INTEGER,
            Kind.DECIMAL,
            Kind.FLOAT,
            Kind.DOUBLE,
            Kind.BYTES,
            Kind.DATE,
            Kind.TIME,
            Kind.TIMESTAMP,
            Kind.INSTANT,
            Kind.UUID);

    public ColumnPair {
        rules = List.copyOf(rules);
        if (source.type().isEmpty() || target.type().isEmpty()) {
            throw new IllegalArgumentException("a column that is compared has no type: " + source.name());
        }
    }

    /** A pair whose values must be equal as they stand. */
    public ColumnPair(ColumnShape source, ColumnShape target, Kind comparedAs) {
        this(source, target, comparedAs, List.of());
    }

    /** The same pair seen from the other side; only for rules that do not translate. */
    public ColumnPair reversed() {
        return new ColumnPair(target, source, comparedAs, rules);
    }

    /**
     * The same pair, whose side that is the mere writing of values is read as values of the other side's kind at once, so
     * that the place of such files can choose and add up by them. With rules, it is they that say what the writing means.
     */
    ColumnPair readAlike() {
        return rules.isEmpty() ? new ColumnPair(readLike(source, target), readLike(target, source), comparedAs) : this;
    }

    private ColumnShape readLike(ColumnShape column, ColumnShape other) {
        CanonicalType type = column.type().orElseThrow();
        if (!type.isWritten()) {
            return column;
        }
        boolean padded = type.padded() || other.type().orElseThrow().padded();
        return column.read(
                READ.contains(comparedAs)
                        ? type.writtenAs(comparedAs)
                        : comparedAs == Kind.TEXT && padded ? type.writtenPadded() : type.writtenAs(Kind.TEXT));
    }

    /** The rules, ready to be applied. */
    public RuleSet toRuleSet() {
        return new RuleSet(rules, comparedAs);
    }

    /** The name by which findings and results speak of the pair: the source's. */
    public String name() {
        return source.name();
    }

    public Cast sourceCast() {
        return cast(source, target);
    }

    public Cast targetCast() {
        return cast(target, source);
    }

    /** With zones, times without one stay so, until they are translated. */
    private Cast cast(ColumnShape column, ColumnShape other) {
        boolean zoned = rules.stream().anyMatch(Rule.Zone.class::isInstance);
        CanonicalType declared = column.type().orElseThrow();
        CanonicalType own =
                declared.isWritten() && other.type().orElseThrow().padded() ? declared.writtenPadded() : declared;
        // How its text is to be read is for the rule alone to say.
        boolean spelled = own.kind() == Kind.TEXT && rules.stream().anyMatch(Rule.Written.class::isInstance);
        if (spelled) {
            return new Cast(own, Kind.TEXT);
        }
        return new Cast(
                own, zoned && own.kind() != Kind.INSTANT ? Kind.TIMESTAMP : comparedAs, digits(), floating(other));
    }

    private static Cast.Floating floating(ColumnShape other) {
        Kind kind = other.type().orElseThrow().kind();
        return kind == Kind.INTEGER || kind == Kind.BOOLEAN ? Cast.Floating.EXACT : Cast.Floating.SHORTEST;
    }

    /** Digits of a second that both sides can hold. */
    public int digits() {
        return Math.min(
                source.type().orElseThrow().digits(),
                target.type().orElseThrow().digits());
    }
}
