package sharptally.acceptance;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.concurrent.atomic.AtomicInteger;

/** Passes connections on to a server on this machine, and cuts the first ones after so many bytes of answer. */
final class CuttingProxy implements AutoCloseable {
    private final ServerSocket listening;
    private final int serverPort;
    private final long bytesUntilCut;
    private final AtomicInteger cutsLeft;

    CuttingProxy(int serverPort, long bytesUntilCut, int cuts) throws IOException {
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
            start(() -> pass(client, server, false));
            start(() -> pass(server, client, true));
        }
    }

    private void pass(Socket from, Socket to, boolean cutting) throws IOException {
        try (from;
                to) {
            InputStream in = from.getInputStream();
            OutputStream out = to.getOutputStream();
            byte[] buffer = new byte[8_192];
            long passed = 0;
            for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
                out.write(buffer, 0, n);
                out.flush();
                passed += n;
                if (cutting && passed > bytesUntilCut && cutsLeft.getAndUpdate(c -> Math.max(0, c - 1)) > 0) {
                    return;
                }
            }
        }
    }

    @Override
    public void close() throws IOException {
        listening.close();
    }
}
