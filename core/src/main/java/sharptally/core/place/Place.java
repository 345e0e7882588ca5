package sharptally.core.place;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
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

    long countRows(TableName table);

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

    /** Starts reading; the caller closes the source. */
    RowSource read(ReadRequest request);

    @Override
    void close();
}
