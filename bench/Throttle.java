import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.atomic.AtomicLong;

/**
 * A slow link: passes TCP connections on at so many Mbit/s in each direction together, each byte so many milliseconds
 * late. Run as {@code java Throttle.java LISTEN_PORT HOST PORT MBIT_PER_S DELAY_MS COUNT_FILE}; the file holds the bytes
 * that have passed.
 */
final class Throttle {
    private record Piece(byte[] bytes, long dueNanos) {}

    private static final AtomicLong passed = new AtomicLong();
    private static double bytesPerNano;
    private static long delayNanos;
    private static long freeAt = System.nanoTime();

    public static void main(String[] args) throws IOException {
        bytesPerNano = Double.parseDouble(args[3]) * 1e6 / 8 / 1e9;
        delayNanos = Long.parseLong(args[4]) * 1_000_000;
        Path count = Path.of(args[5]);
        start(() -> {
            while (true) {
                Files.writeString(count, Long.toString(passed.get()));
                Thread.sleep(100);
            }
        });
        try (ServerSocket server = new ServerSocket(Integer.parseInt(args[0]), 50, InetAddress.getLoopbackAddress())) {
            while (true) {
                Socket client = server.accept();
                Socket target = new Socket(args[1], Integer.parseInt(args[2]));
                client.setTcpNoDelay(true);
                target.setTcpNoDelay(true);
                pass(client, target);
                pass(target, client);
            }
        }
    }

    private interface Work {
        void run() throws IOException, InterruptedException;
    }

    private static void start(Work work) {
        Thread thread = new Thread(() -> {
            try {
                work.run();
            } catch (IOException | InterruptedException e) {
                // a closed connection ends its threads
            }
        });
        thread.setDaemon(true);
        thread.start();
    }

    private static void pass(Socket from, Socket to) {
        var queue = new LinkedBlockingQueue<Piece>(64);
        start(() -> {
            try (from) {
                InputStream in = from.getInputStream();
                byte[] buffer = new byte[4096];
                for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                    queue.put(new Piece(java.util.Arrays.copyOf(buffer, n), reserve(n) + delayNanos));
                }
            } finally {
                queue.put(new Piece(new byte[0], System.nanoTime() + delayNanos));
            }
        });
        start(() -> {
            try (to) {
                OutputStream out = to.getOutputStream();
                for (Piece piece = queue.take(); piece.bytes.length > 0; piece = queue.take()) {
                    long wait = piece.dueNanos - System.nanoTime();
                    if (wait > 0) {
                        java.util.concurrent.locks.LockSupport.parkNanos(wait);
                    }
                    out.write(piece.bytes);
                    passed.addAndGet(piece.bytes.length);
                }
            }
        });
    }

    /** When the last of so many bytes has left, one connection after the other. */
    private static synchronized long reserve(int bytes) {
        freeAt = Math.max(freeAt, System.nanoTime()) + (long) (bytes / bytesPerNano);
        return freeAt;
    }
}
