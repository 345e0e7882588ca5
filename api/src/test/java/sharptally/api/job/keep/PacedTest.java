package sharptally.api.job.keep;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
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

    /** A machine that stands still for ten seconds while something is done makes a hundred of it. */
    private static void until(java.util.function.BooleanSupplier isSo) {
        for (int i = 0; i < 30_000 && !isSo.getAsBoolean(); i++) {
            sleep(10);
        }
        assertThat(isSo.getAsBoolean()).isTrue();
    }

    @Test
    void whatChangesOftenIsDoneSeldomAndTheLastChangeIsNeverLeftOut() {
        AtomicInteger state = new AtomicInteger();
        AtomicInteger seen = new AtomicInteger();
        List<Long> early = new CopyOnWriteArrayList<>();
        AtomicLong earliest = new AtomicLong(Long.MIN_VALUE);
        Paced paced = new Paced(new Object(), () -> {
            long from = System.nanoTime();
            if (from < earliest.get()) {
                early.add(earliest.get() - from);
            }
            sleep(2);
            seen.set(state.get());
            long to = System.nanoTime();
            earliest.set(to + 10 * (to - from));
        });

        for (int i = 0; i < 1000; i++) {
            state.incrementAndGet();
            paced.changed();
            sleep(1);
        }
        until(() -> seen.get() == 1000);
        assertThat(early)
                .as("done sooner than it may take a tenth of the time, ns")
                .isEmpty();
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
