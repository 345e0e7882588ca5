package sharptally.engines.files.text;

import java.io.IOException;

/** Takes the text of a file apart, one record after the other into the same place. Used by one thread. */
interface RecordReader extends AutoCloseable {
    /** Where the fields of the record are. */
    Record record();

    /**
     * Goes to the next record; false at the end.
     *
     * @throws sharptally.core.fault.ToolException when the text can't be taken apart
     */
    boolean advance();

    /** The line on which the record ends. */
    long lastLine();

    @Override
    void close() throws IOException;
}
