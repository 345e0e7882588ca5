package sharptally.core.place;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

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

    /** Tables and views of the user's own, by name; system tables are left out. */
    List<TableName> tables();

    /**
     * The table of this name, written as the user writes it: with or without schema, letter case as declared, or any
     * letter case where that names just one table.
     */
    TableShape describe(String table);

    long countRows(TableName table);

    /** About how large a table is, as far as the place tells without reading it. */
    Estimate estimate(TableName table);

    /** Why a table can't be read, in the place's own words; empty when it can. */
    Optional<String> readProblem(TableName table);

    /** Starts reading; the caller closes the source. */
    RowSource read(ReadRequest request);

    @Override
    void close();
}
