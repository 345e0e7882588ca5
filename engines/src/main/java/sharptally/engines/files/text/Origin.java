package sharptally.engines.files.text;

import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** Where files came from that were fetched: by that they are named in all that is said of them. */
public final class Origin {
    private static final Map<Path, String> KNOWN = new ConcurrentHashMap<>();

    private Origin() {}

    public static void tell(Path file, String from) {
        KNOWN.put(file.toAbsolutePath(), from);
    }

    public static void forget(Path file) {
        KNOWN.remove(file.toAbsolutePath());
    }

    /** Where a file came from, or its own path. */
    public static String of(Path file) {
        return KNOWN.getOrDefault(file.toAbsolutePath(), file.toString());
    }
}
