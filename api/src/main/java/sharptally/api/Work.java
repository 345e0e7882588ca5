package sharptally.api;

import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import sharptally.core.fault.ToolException;

/**
 * Work on a thread of its own, for which the caller waits. An interrupt of the caller would else close, half-way, the files
 * and connections that are being used just then; so the work is asked to stop and comes to its own end, and the caller is
 * left interrupted.
 */
final class Work {
    private Work() {}

    /**
     * @param work gets what tells whether it is to stop
     * @throws SharpTallyException of what fails
     */
    static <T> T done(Function<BooleanSupplier, T> work) {
        boolean[] interrupted = {false};
        CompletableFuture<T> result = new CompletableFuture<>();
        Thread thread = new Thread(
                () -> {
                    try {
                        result.complete(work.apply(() -> isSet(interrupted)));
                    } catch (RuntimeException | Error e) {
                        result.completeExceptionally(e);
                    }
                },
                "sharp-tally-job");
        thread.setDaemon(true);
        thread.start();
        try {
            return awaited(result, interrupted);
        } finally {
            if (isSet(interrupted)) {
                Thread.currentThread().interrupt();
            }
        }
    }

    private static boolean isSet(boolean[] interrupted) {
        synchronized (interrupted) {
            return interrupted[0];
        }
    }

    private static <T> T awaited(CompletableFuture<T> result, boolean[] interrupted) {
        while (true) {
            try {
                return result.get();
            } catch (InterruptedException e) {
                synchronized (interrupted) {
                    interrupted[0] = true;
                }
            } catch (ExecutionException e) {
                if (e.getCause() instanceof ToolException failure) {
                    throw SharpTallyException.of(failure);
                }
                if (e.getCause() instanceof RuntimeException failure) {
                    throw failure;
                }
                throw (Error) e.getCause();
            }
        }
    }
}
