package sharptally.cli;

import java.util.Set;
import sharptally.formats.run.Json;

/**
 * Does beside the parsing of arguments and the opening of connections what would else be waited for later. Nothing depends
 * on its being done.
 */
final class Ahead {
    private static final Set<String> READ_RUNS = Set.of("show", "report", "script", "browse");
    private static final Set<String> WRITE_RUNS = Set.of("compare", "recheck", "apply");

    private Ahead() {}

    static void of(String... args) {
        String command = args.length == 0 ? "" : args[0];
        boolean writes = WRITE_RUNS.contains(command);
        if (!writes && !READ_RUNS.contains(command)) {
            return;
        }
        Thread thread = new Thread(
                () -> {
                    if (writes) {
                        Json.prepareWriting();
                    }
                    Json.prepareReading();
                },
                "ahead");
        thread.setDaemon(true);
        thread.start();
    }
}
