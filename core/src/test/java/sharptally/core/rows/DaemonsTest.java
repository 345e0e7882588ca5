package sharptally.core.rows;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;

class DaemonsTest {
    private static List<Thread> named(String name) {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(thread -> thread.getName().equals(name))
                .toList();
    }

    @Test
    void aThreadHasTheNameOfWhatItDoesAndEndsSoonAfterwards() throws Exception {
        CountDownLatch started = new CountDownLatch(1);
        CountDownLatch over = new CountDownLatch(1);
        Daemons.run("ask-tide", () -> {
            started.countDown();
            try {
                over.await();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        started.await();
        assertThat(named("ask-tide")).hasSize(1).allMatch(Thread::isDaemon);
        over.countDown();
        for (int i = 0;
                i < 500 && !(named("ask-tide").isEmpty() && named(Daemons.IDLE).isEmpty());
                i++) {
            Thread.sleep(10);
        }
        assertThat(named("ask-tide")).isEmpty();
        assertThat(named(Daemons.IDLE)).isEmpty();
    }
}
