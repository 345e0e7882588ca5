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
import sharptally.core.place.Side;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.SumsRequest.Form;
import sharptally.core.place.part.SumsRequest.Hashed;
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
    public Optional<Obstacle> rangeProblem() {
        if (match.wholeRow()) {
            return Optional.of(new Obstacle.NoKey());
        }
        Optional<Obstacle> unlike = match.keyPairs().stream()
                .filter(p -> !isOrderedAlike(p))
                .findFirst()
                .<Obstacle>map(p -> new Obstacle.KeyOrder(p.name()));
        return unlike.isPresent() || seek() != Seek.NEVER ? unlike : Optional.of(new Obstacle.ForeignOrder());
    }

    /** Whether rows of a part of the key can be had, if only by reading all those of a side that finds none by their key. */
    public boolean canNarrow() {
        return rangeProblem()
                .map(problem -> problem instanceof Obstacle.ForeignOrder
                        && Stream.of(Side.values()).allMatch(this::isNarrowed))
                .orElse(true);
    }

    private boolean isNarrowed(Side side) {
        Place place = side == Side.SOURCE ? source : target;
        return place.seeking().isEmpty() || seek(place, side) != Seek.NEVER;
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
        Seek ofSource = seek(source, Side.SOURCE);
        Seek ofTarget = seek(target, Side.TARGET);
        return ofSource.compareTo(ofTarget) > 0 ? ofSource : ofTarget;
    }

    private Seek seek(Place place, Side side) {
        return place.seeking().map(s -> s.seek(table(side), key(side))).orElse(Seek.NEVER);
    }

    /** Whether the key is one whole number, which is never NULL, so that it can be divided. */
    public boolean isWholeNumber() {
        return match.key().size() == 1
                && match.keyPairs().stream()
                        .flatMap(p -> Stream.of(p.source(), p.target()))
                        .allMatch(c -> !c.nullable() && c.type().orElseThrow().kind() == Kind.INTEGER);
    }

    /** Whether there is a key, in the order of which both sides agree, and nothing that is compared is translated. */
    public boolean comparesPlainly() {
        return !match.wholeRow()
                && match.keyPairs().stream().allMatch(Eligibility::isOrderedAlike)
                && comparedProblem().isEmpty();
    }

    private Optional<Obstacle> comparedProblem() {
        return match.pairs().stream()
                .filter(p -> p.toRuleSet().translates())
                .findFirst()
                .<Obstacle>map(p -> new Obstacle.Translated(p.name()));
    }

    /** Why checksums can't be used; empty when they can, in the {@link #form}. */
    public Optional<Obstacle> checksumProblem() {
        return rangeProblem()
                .or(this::comparedProblem)
                .or(() -> unique(Side.SOURCE) || unique(Side.TARGET)
                        ? Optional.empty()
                        : Optional.of(new Obstacle.KeyNotUnique(true)))
                .or(() -> ownProblem().isEmpty() ? Optional.empty() : commonProblem());
    }

    /** Why not by the engine's own hash functions. */
    Optional<Obstacle> ownProblem() {
        Optional<String> one = source.checksums().flatMap(Checksums::ownForm);
        if (one.isEmpty() || !one.equals(target.checksums().flatMap(Checksums::ownForm))) {
            return Optional.of(new Obstacle.NoOwnForm());
        }
        return match.pairs().stream()
                .filter(p -> !isDeclaredAlike(p))
                .findFirst()
                .<Obstacle>map(p -> new Obstacle.OtherType(p.name()))
                .or(() -> sumsProblem(source, request(Side.SOURCE, Form.OWN)))
                .or(() -> sumsProblem(target, request(Side.TARGET, Form.OWN)));
    }

    private static boolean isDeclaredAlike(ColumnPair pair) {
        boolean text = pair.source().type().orElseThrow().kind() == Kind.TEXT;
        return pair.source().type().equals(pair.target().type())
                && (text || base(pair.source()).equals(base(pair.target())));
    }

    private static String base(ColumnShape column) {
        return column.declaredType().replaceAll("\\(.*?\\)", "");
    }

    private static Optional<Obstacle> sumsProblem(Place place, SumsRequest request) {
        return place.checksums().isEmpty()
                ? Optional.of(new Obstacle.NotOffered())
                : place.checksums().get().problem(request);
    }

    private Optional<Obstacle> commonProblem() {
        return sumsProblem(source, request(Side.SOURCE, Form.COMMON))
                .or(() -> sumsProblem(target, request(Side.TARGET, Form.COMMON)));
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

    /** Whether the records of both sides can be held against each other as they are written. */
    boolean hasRecords() {
        String written = source.records().map(r -> r.writtenIn(match.source())).orElse("");
        return !written.isEmpty()
                && written.equals(
                        target.records().map(r -> r.writtenIn(match.target())).orElse(""))
                && match.pairs().stream().allMatch(Eligibility::isWriting)
                // Equal writing is equal by any rule; but what rows are found by is to be nothing else.
                && (match.wholeRow() ? match.pairs() : match.keyPairs())
                        .stream().allMatch(p -> p.rules().isEmpty());
    }

    /**
     * Whether rows can be told apart by hashes of their values, and found again: what rows are found by has one hash for each
     * value, no row moves meanwhile, and reading twice is not asking a question twice.
     */
    public boolean canHash() {
        return source.readsOneState() && target.readsOneState() && hashesKeys();
    }

    /** The same of places that may show another state when they are read again. */
    public boolean hashesKeys() {
        return match.source().query().isEmpty()
                && match.target().query().isEmpty()
                && (match.wholeRow() || match.keyPairs().stream().allMatch(p -> ORDERED.contains(p.comparedAs())));
    }

    private static boolean isWriting(ColumnPair pair) {
        return pair.comparedAs() == Kind.TEXT
                && Stream.of(pair.source(), pair.target()).allMatch(c -> {
                    var type = c.type().orElseThrow();
                    return type.isWritten()
                            && type.kind() == Kind.TEXT
                            && !type.padded()
                            && c.expression().isEmpty();
                });
    }

    /** Why the server can't join the tables; empty when it can. */
    public Optional<Obstacle> joinProblem() {
        if (match.wholeRow()) {
            return Optional.of(new Obstacle.NoKey());
        }
        Optional<String> instance = source.joins().map(Joins::instance);
        if (instance.isEmpty()
                || !instance.equals(target.joins().map(Joins::instance))
                || !source.joins().get().isSeenBy(target.joins().get())) {
            return Optional.of(new Obstacle.Apart());
        }
        return rangeProblem()
                .or(this::comparedProblem)
                .or(() -> match.pairs().stream()
                        .filter(p -> !isJoinable(p))
                        .findFirst()
                        .<Obstacle>map(p -> new Obstacle.OtherType(p.name())))
                .or(this::standpointProblem)
                .or(() -> source.joins().get().problem(match.source(), match.sourceColumns(), key(Side.SOURCE)))
                .or(() -> target.joins().get().problem(match.target(), match.targetColumns(), key(Side.TARGET)))
                // The other side's key is looked at by what comes of the join.
                .or(() -> unique(Side.SOURCE)
                                || unique(Side.TARGET)
                                || isFoundUnique(source, Side.SOURCE)
                                || isFoundUnique(target, Side.TARGET)
                        ? Optional.empty()
                        : Optional.of(new Obstacle.KeyNotUnique(false)));
    }

    private Optional<Obstacle> standpointProblem() {
        Joins ofSource = source.joins().orElseThrow();
        Joins ofTarget = target.joins().orElseThrow();
        boolean depends = ofSource.dependsOnStandpoint(match.source(), match.sourceColumns(), ofTarget.standpoint())
                || ofTarget.dependsOnStandpoint(match.target(), match.targetColumns(), ofSource.standpoint());
        return depends ? Optional.of(new Obstacle.OtherStandpoint()) : Optional.empty();
    }

    private boolean isFoundUnique(Place place, Side side) {
        return place.joins().orElseThrow().isFoundUnique(table(side), key(side));
    }

    private static boolean isJoinable(ColumnPair pair) {
        var source = pair.source().type().orElseThrow();
        var target = pair.target().type().orElseThrow();
        return source.equals(target) && source.kind() == pair.comparedAs()
                || EXACT.contains(source.kind()) && EXACT.contains(target.kind()) && EXACT.contains(pair.comparedAs());
    }
}
