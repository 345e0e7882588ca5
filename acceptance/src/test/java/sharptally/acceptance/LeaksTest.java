package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.ServerSocket;
import java.net.Socket;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The net under all commands that run inside a test's process holds what it is to hold. */
class LeaksTest {
    @TempDir
    Path temporary;

    @Test
    @SuppressWarnings("try")
    void threadsConnectionsAndFilesAreTold() throws Exception {
        Leaks before = Leaks.now(temporary);
        before.check("nothing");
        CountDownLatch end = new CountDownLatch(1);
        Thread thread = new Thread(
                () -> {
                    try {
                        end.await();
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                    }
                },
                "forgotten");
        thread.start();
        try (ServerSocket server = new ServerSocket(0);
                Socket connection = new Socket("127.0.0.1", server.getLocalPort());
                FileChannel file = FileChannel.open(
                        temporary.resolve("old.db"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            assertThatThrownBy(() -> before.check("a command"))
                    .hasMessageStartingWith("left behind by a command: [")
                    .hasMessageContaining("thread forgotten")
                    .hasMessageContaining("open socket:[")
                    .hasMessageContaining("temporary old.db");
        } finally {
            end.countDown();
        }
        Files.delete(temporary.resolve("old.db"));
        before.check("nothing any more");
    }
}
