package sharptally.engines.jdbc;

import java.util.List;
import java.util.Optional;
import sharptally.core.place.SumsRequest.Hashed;

/**
 * How one engine works out checksums in SQL. The common form is specified in {@code docs/checksums.md}. Immutable.
 */
public interface Hashing {
    /** Why rows of these columns have no {@link #common} hash; empty when they have. */
    Optional<String> commonProblem(List<Hashed> columns);

    /** The hash of a row in the common form, as a whole number of 64 bits. */
    String common(List<Hashed> columns);

    /**
     * A query whose one value names the engine's own hash functions and what they make of test values: of two places
     * that give the same, equal rows have equal hashes. Empty where the engine has no fast functions of its own.
     */
    Optional<String> ownForm();

    /** Why rows of these columns have no {@link #own} hash; empty when they have. */
    Optional<String> ownProblem(List<Hashed> columns);

    /** A number that tells the values of a row by the engine's own functions; equal rows have equal ones. */
    String own(List<Hashed> columns);

    /** The hash of a row, made of the column that holds what {@link #own} gave. */
    String ownMixed(String name);

    /** The exact sum of hashes, of any width. */
    String sum(String hash);

    /** A query within a query that the planner is to leave as it is; the query itself where that is of no use. */
    String fenced(String query);

    /** A whole number divided by a step, cut towards zero. */
    String slice(String number, long step);

    /** Of an engine whose rows are hashed here. */
    static Hashing none(String why) {
        return new NoHashing(why);
    }
}
