package sharptally.core.types;

import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;

/** The canonical kinds of value that columns of every engine are mapped to. */
public enum Kind {
    BOOLEAN,
    /** Whole numbers of any width. */
    INTEGER,
    /** Exact decimals; trailing zeros carry no meaning. */
    DECIMAL,
    /** Binary floating point, 32 bits. */
    FLOAT,
    /** Binary floating point, 64 bits. */
    DOUBLE,
    TEXT,
    BYTES,
    DATE,
    /** Time of day without zone, to the nanosecond. */
    TIME,
    /** Date and time without zone, to the nanosecond. */
    TIMESTAMP,
    /** A point in time; the zone it was written in carries no meaning. */
    INSTANT,
    UUID,
    /** A JSON document; blanks, the order of members and the form of numbers carry no meaning. */
    JSON,
    /** A string of bits. */
    BITS,
    /** An engine's own type, compared by the engine's own text form; only with the same type name. */
    OTHER,
    /** No declared type: each value says for itself what it is (SQLite). */
    ANY;

    private static final Set<Kind> EXACT = EnumSet.of(BOOLEAN, INTEGER, DECIMAL);
    private static final Set<Kind> NUMBERS = EnumSet.of(BOOLEAN, INTEGER, DECIMAL, FLOAT, DOUBLE);
    private static final Set<Kind> READABLE_AS_TEXT =
            EnumSet.of(BOOLEAN, INTEGER, DECIMAL, FLOAT, DOUBLE, DATE, TIME, TIMESTAMP, INSTANT, UUID, JSON, BITS);

    /**
     * The kind in which values of two columns are compared with each other, or empty when there is none that is
     * faithful to both. Symmetric.
     */
    public static Optional<Kind> common(Kind one, Kind other) {
        if (one == other) {
            return Optional.of(one);
        }
        if (one == ANY || other == ANY) {
            Kind declared = one == ANY ? other : one;
            return declared == OTHER ? Optional.empty() : Optional.of(declared);
        }
        if (NUMBERS.contains(one) && NUMBERS.contains(other)) {
            if (EXACT.contains(one) && EXACT.contains(other)) {
                return Optional.of(one == DECIMAL || other == DECIMAL ? DECIMAL : INTEGER);
            }
            // A decimal equals a floating value when it is the shortest decimal that reads back as that value.
            return Optional.of(EXACT.contains(one) || EXACT.contains(other) ? DECIMAL : DOUBLE);
        }
        if (one == TEXT || other == TEXT) {
            Kind declared = one == TEXT ? other : one;
            return READABLE_AS_TEXT.contains(declared) ? Optional.of(declared) : Optional.empty();
        }
        if (EnumSet.of(DATE, TIMESTAMP).containsAll(EnumSet.of(one, other))) {
            return Optional.of(TIMESTAMP);
        }
        if (EnumSet.of(TIMESTAMP, INSTANT).containsAll(EnumSet.of(one, other))) {
            // Zone-less times are taken as UTC; the planner says so.
            return Optional.of(INSTANT);
        }
        if (one == BITS && EXACT.contains(other) || other == BITS && EXACT.contains(one)) {
            return Optional.of(INTEGER);
        }
        if (EnumSet.of(UUID, BYTES).containsAll(EnumSet.of(one, other))) {
            return Optional.of(UUID);
        }
        return Optional.empty();
    }
}
