package sharptally.core.place.part;

import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableShape;

/** Rows as they are written: those that are written alike on both sides need not be read as values. */
public interface Records {
    /** Gets a hash of the fields of each record, in the order of the rows. */
    interface Taking {
        /**
         * @param key of the fields of the key
         * @param row of all fields
         */
        void take(long key, long row);

        /** A record of which a field of the key is NULL. */
        void takeWithoutKey();
    }

    /**
     * How fields are hashed: alike on both sides.
     *
     * @param columns names of the columns, in the order of the other side's
     * @param key which of them are the key
     * @param nullable whether a key may have NULL like any other value
     */
    record Hashing(RecordHash hash, List<String> columns, List<Integer> key, boolean nullable) {
        public Hashing {
            columns = List.copyOf(columns);
            key = List.copyOf(key);
        }
    }

    /**
     * In what the fields of a table are written: where it is the same on both sides, fields of equal bytes are equal values.
     * Empty text where records of this table can't be held against others.
     */
    String writtenIn(TableShape table);

    /**
     * Goes through all records of a table.
     *
     * @return whether all of them could be told apart; if not, they are to be read as rows, which tells what is wrong
     * @throws sharptally.core.fault.ToolException when the files can't be read
     */
    boolean hash(TableShape table, Hashing hashing, BooleanSupplier stop, Taking taking);

    /**
     * All rows of a table, as its place reads them; where they are is kept in mind for {@link #only}. Empty where only the
     * place can read them, as those that a condition chooses.
     */
    Optional<RowSource> all(ReadRequest request);

    /**
     * To be called when rows were read once more.
     *
     * @throws sharptally.core.fault.ToolException when files are not as they were when {@link #all} was read
     */
    void unchanged();

    /** Whether rows can be found again once all of them were gone through. */
    boolean areMarked();

    /**
     * Only some of the rows of a table, in their order.
     *
     * @param rows by their number from 0, as {@link #hash} or {@link #all} went through them
     */
    RowSource only(ReadRequest request, BitSet rows);
}
