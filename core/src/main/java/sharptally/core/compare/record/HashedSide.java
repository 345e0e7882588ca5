package sharptally.core.compare.record;

import java.util.BitSet;
import java.util.function.LongConsumer;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowSource;

/** The rows of one side, gone through once for their hashes; some of them are then read. */
interface HashedSide {
    /**
     * @param news told now and then how many rows have been gone through
     * @return whether there are hashes of all rows; if not, they have to be read in another way
     */
    boolean hash(RecordHash hash, RecordSpill into, LongConsumer news);

    /** Whether {@link #only} goes by the hashes of keys, not by the numbers of rows alone. */
    boolean goesByKey();

    /** Rows as the place reads them. */
    RowSource only(ReadRequest request, Left left);

    /**
     * Rows that have no equal one on the other side.
     *
     * @param rows by their number from 0
     * @param keys the hashes of their keys, ascending, where they are gone by; those without a key are not among them
     */
    record Left(BitSet rows, long[] keys) {}
}
