package sharptally.core.compare;

import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.Side;

/** Both places as one worker has them, to ask both at once. */
record Pair(Place source, Place target) {
    private static final long WAIT_MILLIS = 100;

    /** What each side answered. */
    record Answers<T>(T source, T target) {}

    /**
     * Asks both sides at the same time.
     *
     * @param stopAsked once true, both are told to end
     */
    <T> Answers<T> ask(Function<Side, T> question, BooleanSupplier stopAsked) {
        CompletableFuture<T> ofSource = new CompletableFuture<>();
        Thread thread = new Thread(
                () -> {
                    try {
                        ofSource.complete(question.apply(Side.SOURCE));
                    } catch (RuntimeException e) {
                        ofSource.completeExceptionally(e);
                    }
                },
                "ask-source");
        CompletableFuture<T> ofTarget = new CompletableFuture<>();
        Thread other = new Thread(
                () -> {
                    try {
                        ofTarget.complete(question.apply(Side.TARGET));
                    } catch (RuntimeException e) {
                        ofTarget.completeExceptionally(e);
                    }
                },
                "ask-target");
        thread.setDaemon(true);
        other.setDaemon(true);
        thread.start();
        other.start();
        try {
            return new Answers<>(await(ofSource, stopAsked), await(ofTarget, stopAsked));
        } finally {
            // A place is used by one thread: whichever side still works is told to end, and waited for.
            end(ofSource, source);
            end(ofTarget, target);
        }
    }

    private <T> T await(CompletableFuture<T> answer, BooleanSupplier stopAsked) {
        while (true) {
            try {
                return answer.get(WAIT_MILLIS, TimeUnit.MILLISECONDS);
            } catch (TimeoutException e) {
                if (stopAsked.getAsBoolean()) {
                    throw new ToolException(
                            ErrorKind.INCOMPLETE, "stopped on request", "checksums", "nothing was proved", e);
                }
            } catch (ExecutionException e) {
                if (e.getCause() instanceof RuntimeException cause) {
                    throw cause;
                }
                throw new IllegalStateException(e.getCause());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new ToolException(ErrorKind.INCOMPLETE, "interrupted", "checksums", "nothing was proved", e);
            }
        }
    }

    private static void end(CompletableFuture<?> answer, Place place) {
        while (!answer.isDone()) {
            place.cancel();
            try {
                answer.get(WAIT_MILLIS, TimeUnit.MILLISECONDS);
            } catch (TimeoutException e) {
                // told again: the statement may not have been under way yet
            } catch (ExecutionException | CompletionException e) {
                return;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }
}
