package sharptally.core.place;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Integrity;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Records;
import sharptally.core.place.part.Sampling;
import sharptally.core.place.part.Structure;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/**
 * An opened place: who it is, what is there, what it is like, and its rows. Whatever else it may be able to do is a part
 * that it hands out or does not; every place answers for each part, none has a usual answer. Nothing that is called here
 * changes the place. Every method throws {@code ToolException} when the place can't be read. Several readers may be open
 * at once; other than that, used by one thread.
 */
public interface Place extends AutoCloseable {
    Address address();

    /** Product and version, as the place reports them. */
    String product();

    /** What is worth knowing of the place itself: user, TLS, character set, time zone; name to value, in order. */
    Map<String, String> facts();

    /** Whether all that is read is of one state of the database; false also where that is not sure. */
    boolean readsOneState();

    /** The schema whose tables go by their bare names. */
    String ownSchema();

    /** The table that its address alone means, as that of a file does; empty where a place may hold several. */
    Optional<TableName> soleTable();

    /** Tables and views of the user's own, by name; system tables are left out. */
    List<TableName> tables();

    /**
     * Why there may be tables that {@link #tables} does not list, or columns of a table that its description does not show,
     * for lack of rights; empty where all that is there is seen.
     *
     * @param table whose columns are meant; empty for tables
     */
    Optional<String> hides(Optional<TableName> table);

    /** About how large a table is, as far as the place tells without reading it. */
    Estimate estimate(TableName table);

    /** Why a table can't be read, in the place's own words; empty when it can. */
    Optional<String> readProblem(TableName table);

    /**
     * The table of this name, written as the user writes it: with or without schema, letter case as declared, or any
     * letter case where that names just one table.
     */
    TableShape describe(String table);

    /**
     * What an extract is like: of a query the columns and no key, of computed columns the type that the place gives
     * them.
     *
     * @throws sharptally.core.fault.ToolException also when the place refuses a query, condition or expression; the
     *     message says which one
     */
    TableShape describe(Extract extract);

    /**
     * Starts reading; the caller closes the source. Ranges, order and keys to begin behind are honoured where the place
     * {@link #seeking seeks}.
     */
    RowSource read(ReadRequest request);

    /** What of a table could not be read, and was passed over as the user allows, each with where it is. */
    List<String> passedOver(TableName table);

    /**
     * In which form rows come with images: equal images of two places with the same form and the same columns are equal
     * rows. Empty where there are none.
     */
    Optional<String> imageForm();

    /**
     * The same place over a connection of its own, for another thread. It sees the same state of the database where
     * the engine can share one; else its own, begun now.
     */
    Place another();

    /**
     * Whether what it reads is of a state that is as old as one may get by its session's limits: whoever can go on in a
     * later one ends reading, and begins anew.
     */
    default boolean isOverdue() {
        return false;
    }

    /** Nothing is asked of it for a while: where states may not get old, the server need not keep this one. */
    default void rest() {}

    /** Whether this place was made by {@link #another} and sees the state of the one that made it. */
    boolean sharesState();

    /** Finding rows by ranges of a key. */
    Optional<RangeSeek> seeking();

    Optional<Checksums> checksums();

    /** Joining tables on the server; empty also where this one can't be told from others. */
    Optional<Joins> joins();

    Optional<Aggregates> aggregates();

    Optional<Sampling> sampling();

    /** Rows as they are written in files; empty where they are not. */
    default Optional<Records> records() {
        return Optional.empty();
    }

    @Override
    void close();

    /** How constraints are looked at; empty where there is nobody who could. */
    default Optional<Integrity> integrity() {
        return Optional.empty();
    }

    /** What is declared of tables beside their columns; empty where nobody can tell. */
    default Optional<Structure> structure() {
        return Optional.empty();
    }

    /**
     * How far the database has been written by now, in words that its copies understand which replay what is written to it;
     * empty where it does not tell.
     */
    default Optional<String> writtenTo() {
        return Optional.empty();
    }

    /**
     * Whether this place, where it replays what is written to another one, has come as far as that was written.
     *
     * @param position what {@link #writtenTo} said of the other one
     * @return empty where it replays nothing, or another database
     */
    default Optional<Boolean> hasReplayed(String position) {
        return Optional.empty();
    }
}
