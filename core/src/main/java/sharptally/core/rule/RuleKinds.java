package sharptally.core.rule;

import java.util.EnumSet;
import java.util.Set;
import sharptally.core.types.Kind;

/** Kinds of value that rules are for. A column without a declared type may hold any of them. */
final class RuleKinds {
    static final Set<Kind> NUMBERS = EnumSet.of(Kind.INTEGER, Kind.DECIMAL, Kind.FLOAT, Kind.DOUBLE, Kind.ANY);
    static final Set<Kind> TIMES = EnumSet.of(Kind.DATE, Kind.TIME, Kind.TIMESTAMP, Kind.INSTANT, Kind.ANY);
    static final Set<Kind> TEXTS = EnumSet.of(Kind.TEXT, Kind.ANY);

    private RuleKinds() {}
}
