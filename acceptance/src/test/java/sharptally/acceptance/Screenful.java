package sharptally.acceptance;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A command on a terminal of its own, by tmux: keys are pressed one by one, and the screen is read. */
final class Screenful implements AutoCloseable {
    private static final int WAITS = 300;
    private static final int MILLIS = 100;

    private final Path folder;
    private final String socket = "sharp-tally-" + ProcessHandle.current().pid() + "-" + System.nanoTime();

    Screenful(Path folder, int columns, int lines, String command) {
        this.folder = folder;
        tmux(
                "new-session",
                "-d",
                "-s",
                "s",
                "-x",
                Integer.toString(columns),
                "-y",
                Integer.toString(lines),
                "-c",
                folder.toString(),
                command);
    }

    static boolean isThere() {
        return Files.isExecutable(Path.of("/usr/bin/tmux"));
    }

    private String tmux(String... arguments) {
        List<String> command = new ArrayList<>(List.of("tmux", "-u", "-L", socket, "-f", "/dev/null"));
        command.addAll(List.of(arguments));
        return Tool.process(folder, "", command).out();
    }

    void press(String... keys) {
        for (String key : keys) {
            tmux("send-keys", "-t", "s", "--", key);
        }
    }

    /** What is on the screen once this text is. */
    String seen(String expected) throws InterruptedException {
        String seen = "";
        for (int i = 0; i < WAITS; i++) {
            seen = tmux("capture-pane", "-p", "-t", "s");
            if (seen.contains(expected)) {
                return seen;
            }
            Thread.sleep(MILLIS);
        }
        throw new AssertionError("'" + expected + "' is not on the screen:\n" + seen);
    }

    @Override
    public void close() {
        tmux("kill-server");
    }
}
