package sharptally.engines.files.remote;

import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.OptionalLong;

/** Where files are fetched from. */
interface Store extends AutoCloseable {
    /**
     * A file there.
     *
     * @param address as the user could write it
     * @param name its last part
     * @param tag what changes whenever it does; empty text where the store does not tell
     */
    record Item(String address, String name, OptionalLong bytes, String tag) {}

    /**
     * The files that the address means: one, or those of a pattern or folder.
     *
     * @throws sharptally.core.fault.ToolException when there is none, or we are refused
     */
    List<Item> items();

    /**
     * The bytes of a file, as it was when it was listed.
     *
     * @param from how many to pass over
     * @throws sharptally.core.fault.ToolException when it is no more as it was
     * @throws IOException when the transfer fails, which may be tried again
     */
    InputStream open(Item item, long from) throws IOException;

    @Override
    void close();
}
