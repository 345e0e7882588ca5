package sharptally.api.job.keep;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

class PacedTest {
    private static void sleep(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void until(java.util.function.BooleanSupplier isSo) {
        for (int i = 0; i < 500 && !isSo.getAsBoolean(); i++) {
            sleep(10);
        }
        assertThat(isSo.getAsBoolean()).isTrue();
    }

    @Test
    void whatChangesOftenIsDoneSeldomAndTheLastChangeIsNeverLeftOut() {
        AtomicInteger state = new AtomicInteger();
        AtomicInteger seen = new AtomicInteger();
        AtomicInteger times = new AtomicInteger();
        Paced paced = new Paced(new Object(), () -> {
            sleep(5);
            times.incrementAndGet();
            seen.set(state.get());
        });
        long from = System.nanoTime();
        for (int i = 0; i < 300; i++) {
            state.incrementAndGet();
            paced.changed();
            sleep(1);
        }
        long millis = (System.nanoTime() - from) / 1_000_000;
        assertThat(times.get()).isLessThan((int) (millis / 50) + 3);
        until(() -> seen.get() == 300);
    }

    @Test
    void whatFailsLaterIsToldByTheNextOneAndNotByItsThread() {
        AtomicInteger times = new AtomicInteger();
        StringBuffer uncaught = new StringBuffer();
        var before = Thread.getDefaultUncaughtExceptionHandler();
        Thread.setDefaultUncaughtExceptionHandler((thread, e) -> uncaught.append(e));
        try {
            Paced paced = new Paced(new Object(), () -> {
                sleep(5);
                if (times.incrementAndGet() > 1) {
                    throw new ToolException(ErrorKind.INCOMPLETE, "no room", "here", "make some");
                }
            });
            paced.changed();
            paced.changed();
            until(() -> times.get() == 2);
            assertThatThrownBy(paced::changed).isInstanceOf(ToolException.class);
            paced.end();
            assertThatThrownBy(paced::now).isInstanceOf(ToolException.class);
            assertThat(uncaught).isEmpty();
        } finally {
            Thread.setDefaultUncaughtExceptionHandler(before);
        }
    }
}
