package sharptally.cli.job;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import sharptally.core.place.Place;

/**
 * Works through numbered tasks with several threads, each having both places over connections of its own. The first
 * failure that a task does not keep to itself ends the work.
 */
final class Workers {
    private Workers() {}

    /** One task: its number, and the places to use. */
    interface Task {
        void run(int number, Place from, Place to);
    }

    /** Whether what the workers saw was one state of each place. */
    static boolean run(int workers, int tasks, Place from, Place to, Task task) {
        int threads = Math.max(1, Math.min(workers, tasks));
        if (threads == 1) {
            for (int i = 0; i < tasks; i++) {
                task.run(i, from, to);
            }
            return true;
        }
        List<Place> opened = new ArrayList<>();
        try {
            for (int i = 1; i < threads; i++) {
                opened.add(from.another());
                opened.add(to.another());
            }
            runThreads(threads, tasks, from, to, opened, task);
            return opened.stream().allMatch(Place::sharesState);
        } finally {
            opened.forEach(Place::close);
        }
    }

    private static void runThreads(int threads, int tasks, Place from, Place to, List<Place> opened, Task task) {
        AtomicInteger next = new AtomicInteger();
        ExecutorService pool = Executors.newFixedThreadPool(threads);
        try {
            List<Future<?>> running = new ArrayList<>();
            for (int i = 0; i < threads; i++) {
                Place one = i == 0 ? from : opened.get(2 * i - 2);
                Place other = i == 0 ? to : opened.get(2 * i - 1);
                running.add(pool.submit(() -> {
                    for (int number = next.getAndIncrement(); number < tasks; number = next.getAndIncrement()) {
                        task.run(number, one, other);
                    }
                }));
            }
            for (Future<?> thread : running) {
                thread.get();
            }
        } catch (ExecutionException e) {
            next.set(tasks);
            if (e.getCause() instanceof RuntimeException cause) {
                throw cause;
            }
            throw new IllegalStateException(e.getCause());
        } catch (InterruptedException e) {
            next.set(tasks);
            Thread.currentThread().interrupt();
        } finally {
            pool.shutdown();
            awaitEnd(pool);
        }
    }

    private static void awaitEnd(ExecutorService pool) {
        try {
            while (!pool.awaitTermination(1, java.util.concurrent.TimeUnit.SECONDS)) {
                // what still runs ends by itself: it is asked to stop where the user wants that
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
