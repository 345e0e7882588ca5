package sharptally.core.place;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * An opened place. Nothing that is called here changes it. Every method throws {@code ToolException} when the place
 * can't be read. Several readers may be open at once; other than that, used by one thread.
 */
public interface Place extends AutoCloseable {
    Address address();

    /** Product and version, as the place reports them. */
    String product();

    /** What is worth knowing of the place itself: user, TLS, character set, time zone; name to value, in order. */
    Map<String, String> facts();

    /** The schema whose tables go by their bare names. */
    String ownSchema();

    /** Tables and views of the user's own, by name; system tables are left out. */
    List<TableName> tables();

    /**
     * Why there may be tables that {@link #tables} does not list, or columns of a table that its description does not show,
     * for lack of rights; empty where all that is there is seen.
     *
     * @param table whose columns are meant; empty for tables
     */
    Optional<String> hides(Optional<TableName> table);

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

    long countRows(TableShape table);

    /**
     * Keys that stand in more than one row: at most so many, each with the number of its rows behind it.
     *
     * @param key columns of the table
     */
    List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit);

    /**
     * The same place over a connection of its own, for another thread. It sees the same state of the database where
     * the engine can share one; else its own, begun now.
     */
    Place another();

    /**
     * In which form rows come with images: equal images of two places with the same form and the same columns are equal
     * rows. Empty where there are none.
     */
    default Optional<String> imageForm() {
        return Optional.empty();
    }

    /** Whether this place was made by {@link #another} and sees the state of the one that made it. */
    boolean sharesState();

    /** About how large a table is, as far as the place tells without reading it. */
    Estimate estimate(TableName table);

    /** Why a table can't be read, in the place's own words; empty when it can. */
    Optional<String> readProblem(TableName table);

    /**
     * The totals as a table to be read like any other: first a column per group term, then one per figure, a row per
     * group.
     *
     * @throws sharptally.core.fault.ToolException when the engine can't work one of them out in a form that other
     *     engines share
     */
    TableShape totals(TotalsRequest request);

    /** How the rows in a range of these columns are found. */
    Seek seek(TableShape table, List<ColumnShape> key);

    /**
     * Keys that cut the rows of a request into ranges of about so many rows: ascending, without NULL, none of them the
     * first key. All rows are counted for that, none is sent.
     *
     * @param keys asks for the key's columns in the key's order, and for at most one range
     */
    List<List<Value>> bounds(ReadRequest keys, long rowsPerRange);

    /** Names the engine's own hash functions with what they make of test values; empty where there are none. */
    Optional<String> ownForm();

    /** Why checksums can't be worked out by the place; empty when they can. */
    Optional<String> sumsProblem(SumsRequest request);

    /**
     * The checksums of a request that has no {@link #sumsProblem}; only ranges, or slices, that hold rows.
     *
     * @return by the place of the range in the request, or by the number of the slice
     */
    Map<Long, RangeSum> sums(SumsRequest request);

    /** The condition that a column holds this value or a greater one. */
    String atLeast(ColumnShape column, Value value);

    /**
     * The condition that a row is in a sample: so many of so many shares of all keys, told apart by the hash of the key in
     * the common form, so that every place chooses the same keys. Empty where there is no key, or the place can't hash it.
     */
    Optional<String> sampled(List<ColumnShape> key, List<Kind> comparedAs, long shares, long ofShares);

    /** Names the server, or the part of it, whose tables can be joined with each other; empty where none can. */
    Optional<String> instance();

    /**
     * The rows of two tables of this {@link #instance} that are distinct: in key order, the source's columns, then the
     * target's. Where a side has no such row, all of its columns are NULL.
     */
    RowSource joined(JoinRequest request);

    /** Ends what another thread has the place work out just now; that fails then. */
    void cancel();

    /** Starts reading; the caller closes the source. */
    RowSource read(ReadRequest request);

    @Override
    void close();
}
