package sharptally.core.compare.run;

import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/**
 * Works through numbered tasks with several threads, each having something of its own, such as connections. The first
 * failure that a task does not keep to itself ends the work: no further task begins, and those under way are told.
 */
public final class WorkerPool {
    private WorkerPool() {}

    /** One task. */
    @FunctionalInterface
    public interface Task<T> {
        /**
         * @param member what the thread has of its own
         * @param stop once true, another task has failed and this one need not go on
         */
        void run(T member, int number, BooleanSupplier stop);
    }

    /**
     * Carries all tasks out, and throws the first failure once every thread has ended.
     *
     * @param done told of each member for which there is no task left
     */
    public static <T> void run(List<T> members, int tasks, Task<T> task, Consumer<T> done) {
        AtomicInteger next = new AtomicInteger();
        AtomicReference<RuntimeException> failure = new AtomicReference<>();
        BooleanSupplier stop = () -> failure.get() != null;
        ExecutorService pool = Executors.newFixedThreadPool(members.size());
        for (T member : members) {
            pool.execute(() -> {
                try {
                    for (int i = next.getAndIncrement();
                            i < tasks && !stop.getAsBoolean();
                            i = next.getAndIncrement()) {
                        task.run(member, i, stop);
                    }
                    done.accept(member);
                } catch (RuntimeException e) {
                    failure.compareAndSet(null, e);
                }
            });
        }
        pool.shutdown();
        awaitEnd(pool);
        if (failure.get() != null) {
            throw failure.get();
        }
    }

    private static void awaitEnd(ExecutorService pool) {
        boolean interrupted = false;
        boolean ended = false;
        while (!ended) {
            try {
                ended = pool.awaitTermination(1, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                interrupted = true;
                pool.shutdownNow();
            }
        }
        if (interrupted) {
            Thread.currentThread().interrupt();
        }
    }
}
