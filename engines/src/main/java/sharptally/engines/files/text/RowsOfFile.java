package sharptally.engines.files.text;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.rows.Column;
import sharptally.engines.files.raw.RawForm;
import sharptally.engines.files.raw.RawRecords;
import sharptally.engines.files.write.Writing;

/**
 * The records of one file, from first to last; the one that names the columns is none of them. Every method throws {@code
 * ToolException}, with file and line, when the file is not what it should be. Used by one thread.
 */
public interface RowsOfFile extends AutoCloseable {
    /** The columns, in the order of the fields. */
    List<String> names();

    /** How the file is written, as it was said or found: name to value, in order. */
    Map<String, String> facts();

    /** Goes to the next record, which has a field for each column; false at the end. */
    boolean next();

    /** The line, from 1, at which the record begins; in a workbook its row. */
    long line();

    /** Records that were passed over as the user allows, each with its line and what is wrong with it. */
    List<String> broken();

    /** The line on which the record ends. */
    long lastLine();

    /** How records of such a file are written; empty where they are not. */
    Optional<Writing> writing();

    /** How their bytes stand for records; empty where these can only be read. */
    default Optional<RawForm> raw() {
        return Optional.empty();
    }

    /** Whether the record, and all before it, can be gone to by where they begin. */
    default boolean hasPlace() {
        return false;
    }

    /** Where in the file the record begins, if it has a place. */
    default RawRecords.Place place() {
        throw new IllegalStateException("records of this kind have no place");
    }

    /** Adds a field of the record as text, or NULL, to a column. */
    void add(int field, Column into);

    @Override
    void close();
}
