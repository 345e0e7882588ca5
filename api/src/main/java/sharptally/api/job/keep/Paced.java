package sharptally.api.job.keep;

import java.time.Duration;
import java.util.Optional;
import java.util.Timer;
import java.util.TimerTask;
import sharptally.core.fault.ToolException;

/**
 * Does a work whenever something has changed, but so that it takes a tenth of the time at most: what changed shortly after
 * it was done is done a moment later, together with what has changed by then. Safe for use by several threads; the work is
 * done by one at a time.
 */
final class Paced {
    private static final long TIMES_ITS_COST = 10;

    private final Object lock;
    private final Runnable work;
    private Optional<Timer> timer = Optional.empty();
    private boolean waits;
    private boolean ended;
    private long done;
    private long cost;
    private long due;

    /**
     * @param lock held while the work is done: that of its owner, who may ask for it with or without
     */
    Paced(Object lock, Runnable work) {
        this.lock = lock;
        this.work = work;
    }

    /**
     * Something has changed: does the work now, or soon.
     *
     * @throws ToolException when the work is done now and fails
     */
    void changed() {
        synchronized (lock) {
            long wait = cost == 0 ? 0 : done + TIMES_ITS_COST * cost - System.nanoTime();
            if (ended || wait <= 0) {
                now();
            } else if (!waits) {
                waits = true;
                due = System.nanoTime() + wait;
                if (timer.isEmpty()) {
                    timer = Optional.of(new Timer("paced", true));
                }
                timer.get()
                        .schedule(
                                new TimerTask() {
                                    @Override
                                    public void run() {
                                        late();
                                    }
                                },
                                Duration.ofNanos(wait).toMillis() + 1);
            }
        }
    }

    /** Does the work now. */
    void now() {
        synchronized (lock) {
            waits = false;
            long from = System.nanoTime();
            work.run();
            done = System.nanoTime();
            cost = done - from;
        }
    }

    private void late() {
        synchronized (lock) {
            // What a task of the timer was waiting for may have been done by now: what waits since then has a task of
            // its own.
            if (waits && !ended && System.nanoTime() - due >= 0) {
                try {
                    now();
                } catch (ToolException e) {
                    // Nobody hears of it here. It is done once more when the next thing changes, or at the end, and
                    // told there.
                    cost = 0;
                }
            }
        }
    }

    /** From now on nothing is done later. */
    void end() {
        synchronized (lock) {
            ended = true;
            timer.ifPresent(Timer::cancel);
        }
    }
}
