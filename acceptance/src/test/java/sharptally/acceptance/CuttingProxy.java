package sharptally.acceptance;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Passes connections on to a server on this machine, and cuts the first ones after so many bytes of answer, or when the
 * client asks for a commit: before the server hears of it, or before the client hears of the answer.
 */
final class CuttingProxy implements AutoCloseable {
    private final ServerSocket listening;
    private final int serverPort;
    private final long bytesUntilCut;
    private final AtomicInteger cutsLeft;
    private final Optional<Boolean> heardCommit;

    CuttingProxy(int serverPort, long bytesUntilCut, int cuts) throws IOException {
        this(serverPort, bytesUntilCut, cuts, Optional.empty());
    }

    static CuttingProxy atCommit(int serverPort, boolean heard) throws IOException {
        return new CuttingProxy(serverPort, Long.MAX_VALUE, 1, Optional.of(heard));
    }

    private CuttingProxy(int serverPort, long bytesUntilCut, int cuts, Optional<Boolean> heardCommit)
            throws IOException {
        this.heardCommit = heardCommit;
        this.listening = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        this.serverPort = serverPort;
        this.bytesUntilCut = bytesUntilCut;
        this.cutsLeft = new AtomicInteger(cuts);
        start(this::accept);
    }

    int port() {
        return listening.getLocalPort();
    }

    int cutsLeft() {
        return cutsLeft.get();
    }

    private interface Work {
        void run() throws IOException;
    }

    private static void start(Work work) {
        Thread thread = new Thread(() -> {
            try {
                work.run();
            } catch (IOException e) {
                // either end is gone, which is what this is for
            }
        });
        thread.setDaemon(true);
        thread.start();
    }

    private void accept() throws IOException {
        while (true) {
            Socket client = listening.accept();
            Socket server = new Socket(InetAddress.getLoopbackAddress(), serverPort);
            AtomicBoolean silent = new AtomicBoolean();
            start(() -> pass(client, server, false, silent));
            start(() -> pass(server, client, true, silent));
        }
    }

    private void pass(Socket from, Socket to, boolean cutting, AtomicBoolean silent) throws IOException {
        try (from;
                to) {
            InputStream in = from.getInputStream();
            OutputStream out = to.getOutputStream();
            byte[] buffer = new byte[8_192];
            long passed = 0;
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                if (heardCommit.isPresent() && !cutting && cutsLeft.get() > 0 && asksForCommit(buffer, n)) {
                    cutsLeft.decrementAndGet();
                    silent.set(true);
                    if (!heardCommit.get()) {
                        return;
                    }
                }
                if (cutting && silent.get()) {
                    return;
                }
                out.write(buffer, 0, n);
                out.flush();
                passed += n;
                if (cutting && passed > bytesUntilCut && cutsLeft.getAndUpdate(c -> Math.max(0, c - 1)) > 0) {
                    return;
                }
            }
        }
    }

    private static boolean asksForCommit(byte[] bytes, int length) {
        return new String(bytes, 0, length, StandardCharsets.ISO_8859_1).contains("COMMIT");
    }

    @Override
    public void close() throws IOException {
        listening.close();
    }
}
