package sharptally.acceptance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What this process holds that a command may leave behind: threads, open files and connections (each an open file as
 * well), and temporary files.
 */
record Leaks(Path temporary, Set<String> held) {
    private static final long GRACE_MILLIS = 5_000;
    private static final Set<Integer> SERVERS = ConcurrentHashMap.newKeySet();

    /** Opened when a class or driver is first used, and kept by Java or the driver for all that follows. */
    private static final Pattern KEPT = Pattern.compile(
            "thread (Trino JDBC worker|OkHttp TaskRunner).*|thread sharp-tally-idle|open (.*\\.(jar|so|properties|db-cas)( \\(deleted\\))?|/dev/.*"
                    + "|/proc/.*|/usr/.*|/opt/.*|/etc/.*|pipe:.*|anon_inode:.*)"
                    + "|thread (process reaper.*|Keep-Alive.*|.*[Cc]leaner.*|Attach Listener|ForkJoinPool.*|surefire.*|Timer-\\d+"
                    + "|PostgreSQL-JDBC-SharedTimer.*|mariadb-.*|MariaDb-.*|JNA.*|derby\\..*|Jndi.*|idle-timeout-task)"
                    + "|temporary (sharp-tally-\\d+|.*\\.so(\\.lck)?|.*\\.jnilib)");

    static {
        // Java keeps a socket of its own from the first one on that is closed.
        try (ServerSocket server = new ServerSocket(0)) {
            new Socket("127.0.0.1", server.getLocalPort()).close();
            server.accept().close();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * @param temporary the folder of this process for files that are not kept
     */
    static Leaks now(Path temporary) {
        Set<String> held = new TreeSet<>();
        Thread.getAllStackTraces().keySet().forEach(thread -> held.add("thread " + thread.getName()));
        try (Stream<Path> files = Files.list(Path.of("/proc/self/fd"))) {
            files.forEach(file -> {
                try {
                    held.add("open " + Files.readSymbolicLink(file));
                } catch (IOException e) {
                    // closed meanwhile
                }
            });
        } catch (IOException e) {
            // no such system
        }
        try (Stream<Path> files = Files.list(temporary)) {
            files.forEach(file -> held.add("temporary " + file.getFileName()));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return new Leaks(
                temporary, held.stream().filter(h -> !KEPT.matcher(h).matches()).collect(Collectors.toSet()));
    }

    /** Fails when more is held now, after a little while in which threads may end. */
    void check(String after) {
        long end = System.nanoTime() + GRACE_MILLIS * 1_000_000;
        Set<String> left = more();
        while (!left.isEmpty() && System.nanoTime() < end) {
            try {
                Thread.sleep(20);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
            left = more();
        }
        if (!left.isEmpty()) {
            throw new AssertionError("left behind by " + after + ": "
                    + left.stream().map(Leaks::named).toList());
        }
    }

    /** A socket with both its ends, as the system has them: addresses and ports in hexadecimal. */
    private static String named(String held) {
        String inode = held.replaceFirst("open socket:\\[(\\d+)]", " $1 ");
        return held
                + Stream.of("/proc/net/tcp", "/proc/net/tcp6")
                        .flatMap(file -> {
                            try {
                                return Files.readAllLines(Path.of(file)).stream();
                            } catch (IOException e) {
                                return Stream.empty();
                            }
                        })
                        .filter(line -> !inode.equals(held) && line.contains(inode))
                        .collect(Collectors.joining());
    }

    /** A driver keeps connections to this server for those to come, as many as it ever had at once. */
    static void keepsConnectionsTo(int port) {
        SERVERS.add(port);
    }

    private static boolean isKeptByDriver(String left) {
        return left.startsWith("open socket:")
                && SERVERS.stream()
                        .anyMatch(port -> named(left).contains(String.format(Locale.ROOT, ":%04X 01 ", port)));
    }

    private Set<String> more() {
        Set<String> left = new TreeSet<>(now(temporary).held);
        left.removeAll(held);
        left.removeIf(Leaks::isKeptByDriver);
        return left;
    }
}
