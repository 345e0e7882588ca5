package sharptally.engines.jdbc.connect;

import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Embedded engines bring a library of machine code, which their drivers unpack into the temporary folder and load. */
public final class NativeLibrary {
    private NativeLibrary() {}

    /** Loads it by making any first connection. */
    @FunctionalInterface
    public interface Loading {
        void load() throws Exception;
    }

    /**
     * @throws ToolException when it can't be loaded, as where the temporary folder does not let files be executed
     */
    public static void load(String engine, Loading loading) {
        try {
            loading.load();
        } catch (Exception | LinkageError e) {
            throw new ToolException(
                    ErrorKind.START,
                    "the library of " + engine + " can't be loaded",
                    "temporary folder " + System.getProperty("java.io.tmpdir"),
                    "choose a folder in which files may be written and run, with JAVA_OPTS=-Djava.io.tmpdir=…",
                    e);
        }
    }
}
