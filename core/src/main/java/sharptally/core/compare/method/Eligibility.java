package sharptally.core.compare.method;

import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Stream;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Seek;
import sharptally.core.place.Side;
import sharptally.core.place.SumsRequest;
import sharptally.core.place.SumsRequest.Form;
import sharptally.core.place.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/**
 * Which methods can be used for a match, and why the others can't. Each of them may take rows for equal only where a
 * merge would: so values that a rule translates, or that have no exact common form, keep it from being used.
 */
public final class Eligibility {
    private static final Set<Kind> EXACT = EnumSet.of(Kind.BOOLEAN, Kind.INTEGER, Kind.DECIMAL);
    private static final Set<Kind> ORDERED = EnumSet.of(
            Kind.INTEGER,
            Kind.DECIMAL,
            Kind.TEXT,
            Kind.DATE,
            Kind.TIME,
            Kind.TIMESTAMP,
            Kind.INSTANT,
            Kind.UUID,
            Kind.BYTES);

    private final TableMatch match;
    private final Place source;
    private final Place target;

    public Eligibility(TableMatch match, Place source, Place target) {
        this.match = match;
        this.source = source;
        this.target = target;
    }

    public List<ColumnShape> key(Side side) {
        return match.keyPairs().stream()
                .map(p -> side == Side.SOURCE ? p.source() : p.target())
                .toList();
    }

    private TableShape table(Side side) {
        return side == Side.SOURCE ? match.source() : match.target();
    }

    private boolean unique(Side side) {
        return table(side).holdsUnique(key(side).stream().map(ColumnShape::name).toList())
                && key(side).stream().noneMatch(ColumnShape::nullable);
    }

    /** Why ranges of the key can't be told to both databases; empty when they can. */
    public Optional<String> rangeProblem() {
        if (match.wholeRow()) {
            return Optional.of("there is no key");
        }
        Optional<String> unlike = match.keyPairs().stream()
                .filter(p -> !isOrderedAlike(p))
                .findFirst()
                .map(p -> "key column " + p.name() + " has no one order on both sides");
        return unlike.isPresent() || seek() != Seek.NEVER
                ? unlike
                : Optional.of("the databases do not order this key as we do");
    }

    private static boolean isOrderedAlike(ColumnPair pair) {
        var source = pair.source().type().orElseThrow();
        var target = pair.target().type().orElseThrow();
        boolean alike = source.kind() == target.kind()
                ? source.digits() == target.digits()
                : EXACT.contains(source.kind()) && EXACT.contains(target.kind());
        return pair.rules().isEmpty()
                && alike
                && ORDERED.contains(source.kind())
                && ORDERED.contains(target.kind())
                && !source.padded()
                && !target.padded();
    }

    /** How both sides find the rows of a range. */
    public Seek seek() {
        Seek ofSource = source.seek(match.source(), key(Side.SOURCE));
        Seek ofTarget = target.seek(match.target(), key(Side.TARGET));
        return ofSource.compareTo(ofTarget) > 0 ? ofSource : ofTarget;
    }

    /** Whether the key is one whole number, which is never NULL, so that it can be divided. */
    public boolean isWholeNumber() {
        return match.key().size() == 1
                && match.keyPairs().stream()
                        .flatMap(p -> Stream.of(p.source(), p.target()))
                        .allMatch(c -> !c.nullable() && c.type().orElseThrow().kind() == Kind.INTEGER);
    }

    private Optional<String> comparedProblem() {
        return match.pairs().stream()
                .filter(p -> p.toRuleSet().translates())
                .findFirst()
                .map(p -> "a rule translates " + p.name());
    }

    /** Why checksums can't be used; empty when they can, in the {@link #form}. */
    Optional<String> checksumProblem() {
        return rangeProblem()
                .or(this::comparedProblem)
                .or(() -> unique(Side.SOURCE) || unique(Side.TARGET)
                        ? Optional.empty()
                        : Optional.of("neither database holds the key unique"))
                .or(() -> ownProblem().isEmpty() ? Optional.empty() : commonProblem());
    }

    /** Why not by the engine's own hash functions. */
    Optional<String> ownProblem() {
        Optional<String> one = source.ownForm();
        if (one.isEmpty() || !one.equals(target.ownForm())) {
            return Optional.of("the sides have no fast hash functions in common");
        }
        return match.pairs().stream()
                .filter(p -> !isDeclaredAlike(p))
                .findFirst()
                .map(p -> p.name() + " is of another type on the other side")
                .or(() -> source.sumsProblem(request(Side.SOURCE, Form.OWN)))
                .or(() -> target.sumsProblem(request(Side.TARGET, Form.OWN)));
    }

    private static boolean isDeclaredAlike(ColumnPair pair) {
        boolean text = pair.source().type().orElseThrow().kind() == Kind.TEXT;
        return pair.source().type().equals(pair.target().type())
                && (text || base(pair.source()).equals(base(pair.target())));
    }

    private static String base(ColumnShape column) {
        return column.declaredType().replaceAll("\\(.*?\\)", "");
    }

    private Optional<String> commonProblem() {
        return source.sumsProblem(request(Side.SOURCE, Form.COMMON))
                .or(() -> target.sumsProblem(request(Side.TARGET, Form.COMMON)));
    }

    public Form form() {
        return ownProblem().isEmpty() ? Form.OWN : Form.COMMON;
    }

    public SumsRequest request(Side side, Form form) {
        List<Hashed> columns = match.pairs().stream()
                .map(p -> new Hashed(side == Side.SOURCE ? p.source() : p.target(), p.comparedAs(), p.digits()))
                .toList();
        return new SumsRequest(table(side), columns, key(side), List.of(), OptionalLong.empty(), form);
    }

    /** Why the server can't join the tables; empty when it can. */
    Optional<String> joinProblem() {
        if (match.wholeRow()) {
            return Optional.of("there is no key");
        }
        Optional<String> instance = source.instance();
        if (instance.isEmpty() || !instance.equals(target.instance())) {
            return Optional.of("the tables are not on one server that can join them");
        }
        if (!unique(Side.SOURCE) || !unique(Side.TARGET)) {
            return Optional.of("the databases do not hold the key unique");
        }
        return rangeProblem()
                .or(this::comparedProblem)
                .or(() -> match.pairs().stream()
                        .filter(p -> !isJoinable(p))
                        .findFirst()
                        .map(p -> p.name() + " is of another type on the other side"));
    }

    private static boolean isJoinable(ColumnPair pair) {
        var source = pair.source().type().orElseThrow();
        var target = pair.target().type().orElseThrow();
        return source.equals(target) && source.kind() == pair.comparedAs()
                || EXACT.contains(source.kind()) && EXACT.contains(target.kind()) && EXACT.contains(pair.comparedAs());
    }
}
