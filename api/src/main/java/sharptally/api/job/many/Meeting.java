package sharptally.api.job.many;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.api.job.CompareJob.Watch;
import sharptally.api.job.CompareJob.Watcher;
import sharptally.core.match.TableMatch;

/**
 * Lets several comparisons begin each table together, so that what they read of it is read once. Nobody waits for one that
 * does not compare the table, that has ended, or that waits as well.
 */
final class Meeting {
    private static final long WAIT_MILLIS = 50;

    private final BooleanSupplier stopAsked;
    private final List<Guest> guests = new ArrayList<>();

    /** One comparison. */
    private static final class Guest {
        private Optional<Set<String>> plan = Optional.empty();
        private final Set<String> begun = new HashSet<>();
        private int running;
        private int waiting;
        private boolean gone;

        private boolean mayStillCome(String match) {
            return !gone
                    && !begun.contains(match)
                    && plan.filter(tables -> !tables.contains(match)).isEmpty();
        }

        private boolean isStuck() {
            return gone || plan.isPresent() && waiting > 0 && running == 0;
        }
    }

    Meeting(int guests, BooleanSupplier stopAsked) {
        this.stopAsked = stopAsked;
        IntStream.range(0, guests).forEach(i -> this.guests.add(new Guest()));
    }

    synchronized void leave(int guest) {
        guests.get(guest).gone = true;
        notifyAll();
    }

    /** Tells of one comparison, once the others are where it is. */
    Watcher of(int guest, Watcher told) {
        return new Watcher() {
            @Override
            public Watch begin(TableMatch match, long expectedRows) {
                await(guests.get(guest), match.name());
                Watch watch = told.begin(match, expectedRows);
                return new Watch() {
                    @Override
                    public void rows(long source, long target) {
                        watch.rows(source, target);
                    }

                    @Override
                    public void close() {
                        ended(guests.get(guest));
                        watch.close();
                    }
                };
            }

            @Override
            public void planned(List<TableMatch> matches) {
                synchronized (Meeting.this) {
                    guests.get(guest).plan =
                            Optional.of(matches.stream().map(TableMatch::name).collect(Collectors.toSet()));
                    Meeting.this.notifyAll();
                }
                told.planned(matches);
            }
        };
    }

    private synchronized void ended(Guest guest) {
        guest.running--;
        notifyAll();
    }

    private synchronized void await(Guest guest, String match) {
        guest.begun.add(match);
        guest.waiting++;
        notifyAll();
        try {
            // Where all wait, for each other, they wait in vain.
            while (guests.stream().anyMatch(other -> other.mayStillCome(match))
                    && !guests.stream().allMatch(Guest::isStuck)
                    && !stopAsked.getAsBoolean()) {
                wait(WAIT_MILLIS);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            guest.waiting--;
            guest.running++;
        }
    }
}
