package sharptally.cli.screen;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jline.utils.Signals;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * What is longer than the screen goes through the user's pager: {@code PAGER}, else {@code less}. It is started when the
 * screen is full, so that short results are just printed. Messages wait until it ends. Used by one thread.
 */
public final class Pager implements AutoCloseable {
    /** Commands whose result is for reading. */
    private static final Set<String> READ = Set.of("show", "history", "survey");

    private static final Set<String> HELP = Set.of("--help", "-h");
    /** By what a shell tells that a command can't be found or run. */
    private static final Set<Integer> NOT_STARTED = Set.of(126, 127);

    private final Screen real;
    private final Optional<Feed> feed;
    private final ByteArrayOutputStream messages = new ByteArrayOutputStream();
    private final Screen screen;

    /** The user has seen enough. */
    public static final class Left extends RuntimeException {
        private static final long serialVersionUID = 1;

        public Left(IOException cause) {
            super("the pager was left", cause);
        }
    }

    /** What is printed: held until the screen is full, then handed to the pager. */
    private static final class Feed extends OutputStream {
        private final PrintStream out;
        private final String command;
        private final int lines;
        private ByteArrayOutputStream held = new ByteArrayOutputStream();
        private int seen;
        private Optional<Process> pager = Optional.empty();
        private boolean plain;

        Feed(PrintStream out, String command, int lines) {
            this.out = out;
            this.command = command;
            this.lines = lines;
        }

        @Override
        public void write(int b) throws IOException {
            write(new byte[] {(byte) b}, 0, 1);
        }

        @Override
        public void write(byte[] bytes, int from, int length) throws IOException {
            if (pager.isPresent()) {
                toPager(bytes, from, length);
            } else if (plain) {
                out.write(bytes, from, length);
            } else {
                held.write(bytes, from, length);
                for (int i = from; i < from + length; i++) {
                    seen += bytes[i] == '\n' ? 1 : 0;
                }
                if (seen >= lines) {
                    start();
                }
            }
        }

        private void start() throws IOException {
            ProcessBuilder builder = new ProcessBuilder("sh", "-c", command);
            builder.redirectOutput(ProcessBuilder.Redirect.INHERIT).redirectError(ProcessBuilder.Redirect.INHERIT);
            Map<String, String> environment = builder.environment();
            environment.putIfAbsent("LESS", "RX");
            environment.putIfAbsent("LESSCHARSET", "utf-8");
            // Ctrl-C is the pager's while it runs.
            Signals.register("INT", () -> {});
            Process process = builder.start();
            pager = Optional.of(process);
            byte[] all = held.toByteArray();
            held = new ByteArrayOutputStream();
            toPager(all, 0, all.length);
        }

        private void toPager(byte[] bytes, int from, int length) {
            try {
                pager.orElseThrow().getOutputStream().write(bytes, from, length);
            } catch (IOException e) {
                throw new Left(e);
            }
        }

        @Override
        public void close() throws IOException {
            if (pager.isEmpty()) {
                plain = true;
                held.writeTo(out);
                out.flush();
                return;
            }
            Process process = pager.get();
            try {
                process.getOutputStream().close();
            } catch (IOException e) {
                // it was left before the end
            }
            try {
                int code = process.waitFor();
                if (NOT_STARTED.contains(code)) {
                    throw new ToolException(
                            ErrorKind.USAGE,
                            "the pager can't be started",
                            "PAGER=" + command,
                            "name another one, or none with PAGER=cat");
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    private Pager(Screen real, Optional<Feed> feed) {
        this.real = real;
        this.feed = feed;
        this.screen = feed.map(f -> new Screen(
                        new PrintStream(f, false, StandardCharsets.UTF_8),
                        new PrintStream(messages, true, StandardCharsets.UTF_8),
                        real.style(),
                        real.columns(),
                        false))
                .orElse(real);
    }

    /** One for the command that the arguments name; it changes nothing where there is no terminal or nothing to page. */
    public static Pager of(Screen screen, Map<String, String> environment, String... arguments) {
        List<String> all = List.of(arguments);
        boolean read =
                !all.isEmpty() && READ.contains(all.get(0)) || all.stream().anyMatch(HELP::contains);
        int lines = Integer.getInteger("sharptally.lines", 0);
        String command = environment.getOrDefault("PAGER", isThere("less") ? "less" : "");
        boolean paged = read
                && screen.terminal()
                && lines > 0
                && !"dumb".equals(environment.get("TERM"))
                && !command.isBlank()
                && !command.equals("cat");
        return new Pager(screen, paged ? Optional.of(new Feed(screen.out(), command, lines)) : Optional.empty());
    }

    private static boolean isThere(String program) {
        for (String folder : System.getenv().getOrDefault("PATH", "").split(java.io.File.pathSeparator)) {
            if (java.nio.file.Files.isExecutable(java.nio.file.Path.of(folder, program))) {
                return true;
            }
        }
        return false;
    }

    /** Where the command prints to. */
    public Screen screen() {
        return screen;
    }

    /** Waits until the user has seen enough, then prints what messages there were. */
    @Override
    public void close() {
        if (feed.isEmpty()) {
            return;
        }
        try {
            screen.out().flush();
        } catch (Left e) {
            // seen enough just now
        }
        try {
            feed.get().close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
        real.err().print(messages.toString(StandardCharsets.UTF_8));
        real.err().flush();
    }
}
