package sharptally.cli.screen;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntSupplier;
import sharptally.core.fault.ErrorKind;

/** Turns Ctrl-C and termination into a clean stop: work is asked to end, and gets some seconds for it. */
public final class Interrupt {
    private static final long SECONDS_TO_END = 10;
    private static final AtomicBoolean ASKED = new AtomicBoolean();

    private Interrupt() {}

    /** Whether the user wants the work to end. Safe to ask from any thread. */
    public static boolean asked() {
        return ASKED.get();
    }

    /** Runs the work; when the process is told to end meanwhile, it exits with the work's code, or with 5. */
    public static int guard(IntSupplier work) {
        // Not the thread's own end: it waits in System.exit for this hook to end.
        CountDownLatch done = new CountDownLatch(1);
        AtomicInteger result = new AtomicInteger(-1);
        Thread hook = new Thread(() -> {
            if (result.get() >= 0) {
                return;
            }
            ASKED.set(true);
            try {
                done.await(SECONDS_TO_END, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            Runtime.getRuntime().halt(result.get() >= 0 ? result.get() : ErrorKind.INCOMPLETE.exitCode());
        });
        Runtime.getRuntime().addShutdownHook(hook);
        int code = work.getAsInt();
        result.set(code);
        done.countDown();
        return code;
    }
}
