package sharptally.core.place.shared;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.part.Checksums;

/** Figures of a place, each worked out once for all who ask for it. */
final class Answers {
    private static final long WAIT_MILLIS = 100;

    /** So many figures are kept for those who have not asked yet, the latest ones. */
    private static final long MAX_KEPT = 400_000;

    private final SharedPlace place;
    private final Map<Object, Answer> kept = new LinkedHashMap<>();
    private int members;
    private long weight;

    Answers(SharedPlace place, int members) {
        this.place = place;
        this.members = members;
    }

    /** An answer that is there, or under way. */
    private static final class Answer {
        private final CompletableFuture<Object> value = new CompletableFuture<>();
        private final Set<Member> waiting = new HashSet<>();
        private Place asked;
        private int taken;
        private long weight;
    }

    synchronized void left() {
        members--;
        kept.values().removeIf(answer -> {
            boolean done = answer.value.isDone() && answer.taken >= members;
            weight -= done ? answer.weight : 0;
            return done;
        });
    }

    /**
     * @param question equal for all who want the same
     * @param answer asks a connection, for whoever is the first
     */
    <T> T once(Member member, Object question, Function<Place, T> answer) {
        Answer one;
        boolean first;
        synchronized (this) {
            one = kept.get(question);
            // Of one that nobody waits for any more the end is near.
            first = one == null || !one.value.isDone() && one.waiting.isEmpty();
            if (first) {
                one = new Answer();
                kept.put(question, one);
            }
            one.waiting.add(member);
        }
        try {
            if (first) {
                ask(one, question, answer);
            }
            @SuppressWarnings("unchecked")
            T had = (T) had(one, member);
            return had;
        } finally {
            taken(one, question, member);
        }
    }

    private <T> void ask(Answer one, Object question, Function<Place, T> answer) {
        Place asked = null;
        try {
            asked = place.lent();
            synchronized (this) {
                one.asked = asked;
            }
            T value = answer.apply(asked);
            synchronized (this) {
                one.asked = null;
                one.weight = value instanceof Map<?, ?> map ? map.size() + 1 : 1;
                weight += one.weight;
            }
            place.back(asked);
            one.value.complete(value);
        } catch (RuntimeException | Error e) {
            synchronized (this) {
                one.asked = null;
                kept.remove(question, one);
            }
            one.value.completeExceptionally(e);
            if (asked != null) {
                discard(asked, e);
            }
        }
    }

    /** After a failure nobody knows what the connection is good for. */
    private void discard(Place asked, Throwable why) {
        try {
            place.broken(asked);
        } catch (ToolException e) {
            why.addSuppressed(e);
        }
    }

    private Object had(Answer one, Member member) {
        while (true) {
            try {
                return one.value.get(WAIT_MILLIS, TimeUnit.MILLISECONDS);
            } catch (TimeoutException e) {
                synchronized (this) {
                    if (!one.waiting.contains(member)) {
                        throw new ToolException(ErrorKind.INCOMPLETE, "stopped on request", "checksums", "", e);
                    }
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

    private synchronized void taken(Answer one, Object question, Member member) {
        one.waiting.remove(member);
        one.taken++;
        if (one.value.isDone() && one.taken >= members && kept.remove(question, one)) {
            weight -= one.weight;
        }
        var oldest = kept.entrySet().iterator();
        while (weight > MAX_KEPT && oldest.hasNext()) {
            Answer old = oldest.next().getValue();
            if (old.value.isDone() && old.waiting.isEmpty()) {
                weight -= old.weight;
                oldest.remove();
            }
        }
    }

    /** A member wants no answer any more; what nobody else waits for is ended. */
    void cancel(Member member) {
        Place running = null;
        synchronized (this) {
            for (Answer one : kept.values()) {
                one.waiting.remove(member);
                if (one.asked != null && one.waiting.isEmpty()) {
                    running = one.asked;
                }
            }
        }
        if (running != null) {
            running.checksums().ifPresent(Checksums::cancel);
        }
    }
}
