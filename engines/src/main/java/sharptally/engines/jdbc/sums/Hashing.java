package sharptally.engines.jdbc.sums;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;

/**
 * How one engine works out checksums in SQL. The common form is specified in {@code docs/checksums.md}. Immutable.
 */
public interface Hashing {
    /** How many digits a sum has below what stands for rows that have no hash. */
    int UNHASHED_DIGITS = 45;

    /** The same for the place behind a connection, whose character set may count. */
    default Hashing fitting(Connection connection) throws SQLException {
        return this;
    }

    /** Why rows of these columns have no {@link #common} hash; empty when they have. */
    Optional<Obstacle> commonProblem(List<Hashed> columns);

    /** The hash of a row in the common form, as a whole number of 64 bits. */
    String common(List<Hashed> columns);

    /**
     * A query whose one value names the engine's own hash functions and what they make of test values: of two places
     * that give the same, equal rows have equal hashes. Empty where the engine has no fast functions of its own.
     */
    default Optional<String> ownForm() {
        return Optional.empty();
    }

    /** Why rows of these columns have no {@link #own} hash; empty when they have. */
    default Optional<Obstacle> ownProblem(List<Hashed> columns) {
        return Optional.of(new Obstacle.NoOwnForm());
    }

    /** The hash of a row by the engine's own functions, as a whole number of 64 bits. */
    default String own(List<Hashed> columns) {
        throw new IllegalStateException("no own form");
    }

    /**
     * The exact sum of hashes, of any width, and ten to the power of {@link #UNHASHED_DIGITS} for each that is NULL; a
     * column, so that it may be named twice.
     */
    String sum(String hash);

    /** A query within a query that the planner is to leave as it is; the query itself where that is of no use. */
    default String fenced(String query) {
        return query;
    }

    /**
     * The lowest bits of a hash, as a whole number from zero.
     *
     * @param shares a power of two: how many such numbers there are
     */
    default String masked(String hash, long shares) {
        return "(" + hash + " & " + (shares - 1) + ")";
    }

    /** A whole number divided by a step, cut towards zero. */
    String slice(String number, long step);

    /**
     * The type of a list of keys, beside each of which rows can be looked up by a query of their own (LATERAL); empty where
     * that can't be, so that each range is a query by itself.
     */
    default Optional<String> listedAs(ColumnShape key) {
        return Optional.empty();
    }

    /**
     * The multiples of a step from a column to before another, as what stands behind FROM: a table of the given name with a
     * column {@code tally_from}, which a later part of FROM can use row by row. Empty where there is no such thing, so
     * that slices are made by grouping.
     *
     * @param key the column that is cut, a whole number
     */
    default Optional<String> slices(ColumnShape key, String from, String end, long step, String name) {
        return Optional.empty();
    }
}
