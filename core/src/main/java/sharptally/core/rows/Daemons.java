package sharptally.core.rows;

import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.SynchronousQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/** Threads that do one thing after another and keep no program alive: starting one for each thing takes longer. */
public final class Daemons {
    /** How long one waits for more to do: programs of others are left without threads of ours. */
    private static final long IDLE_MILLIS = 500;

    /** The name of one that has nothing to do. */
    static final String IDLE = "sharp-tally-idle";

    private static final ExecutorService THREADS = new ThreadPoolExecutor(
            0, Integer.MAX_VALUE, IDLE_MILLIS, TimeUnit.MILLISECONDS, new SynchronousQueue<>(), task -> {
                Thread thread = new Thread(task, IDLE);
                thread.setDaemon(true);
                return thread;
            });

    /** Two answers. */
    public record Both<T>(T here, T there) {}

    private Daemons() {}

    /**
     * @param name of the thread as long as it does this
     */
    public static void run(String name, Runnable task) {
        THREADS.execute(() -> {
            Thread thread = Thread.currentThread();
            thread.setName(name);
            try {
                task.run();
            } finally {
                thread.setName(IDLE);
            }
        });
    }

    /** Asks for both at once and waits for both; where both fail, the first one's failure is thrown. */
    public static <T> Both<T> both(String name, Supplier<T> here, Supplier<T> there) {
        CompletableFuture<T> other = new CompletableFuture<>();
        run(name, () -> {
            try {
                other.complete(there.get());
            } catch (RuntimeException | Error e) {
                other.completeExceptionally(e);
            }
        });
        T one;
        try {
            one = here.get();
        } catch (RuntimeException | Error e) {
            other.exceptionally(failure -> null).join();
            throw e;
        }
        try {
            return new Both<>(one, other.join());
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException cause) {
                throw cause;
            }
            throw e;
        }
    }
}
