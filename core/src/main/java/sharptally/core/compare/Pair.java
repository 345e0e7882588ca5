package sharptally.core.compare;

import java.util.Map;
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
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Daemons;

/** Both places as one worker has them, to ask both at once. */
public record Pair(Place source, Place target) {
    private static final long WAIT_MILLIS = 100;

    public Place of(Side side) {
        return side == Side.SOURCE ? source : target;
    }

    /** Nothing is asked of either for a while. */
    public void rest() {
        source.rest();
        target.rest();
    }

    /** What each side answered. */
    public record Answers<T>(T source, T target) {}

    /** Both sides' checksums at the same time, of places that have such a part. */
    public Answers<Map<Long, RangeSum>> sums(SumsRequest ofSource, SumsRequest ofTarget, BooleanSupplier stopAsked) {
        return ask(
                side -> of(side).checksums().orElseThrow().sums(side == Side.SOURCE ? ofSource : ofTarget), stopAsked);
    }

    /**
     * Asks both sides at the same time.
     *
     * @param stopAsked once true, both are told to end
     */
    public <T> Answers<T> ask(Function<Side, T> question, BooleanSupplier stopAsked) {
        CompletableFuture<T> ofSource = asked(question, Side.SOURCE);
        CompletableFuture<T> ofTarget = asked(question, Side.TARGET);
        try {
            return new Answers<>(await(ofSource, stopAsked), await(ofTarget, stopAsked));
        } finally {
            // A place is used by one thread: whichever side still works is told to end, and waited for.
            end(ofSource, source);
            end(ofTarget, target);
        }
    }

    private static <T> CompletableFuture<T> asked(Function<Side, T> question, Side side) {
        CompletableFuture<T> answer = new CompletableFuture<>();
        Daemons.run("ask-" + side, () -> {
            try {
                answer.complete(question.apply(side));
            } catch (RuntimeException e) {
                answer.completeExceptionally(e);
            }
        });
        return answer;
    }

    private static <T> T await(CompletableFuture<T> answer, BooleanSupplier stopAsked) {
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
            place.checksums().ifPresent(Checksums::cancel);
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
