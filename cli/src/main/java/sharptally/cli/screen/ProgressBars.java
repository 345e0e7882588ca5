package sharptally.cli.screen;

import java.io.PrintStream;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarConsumer;
import me.tongfei.progressbar.ProgressBarStyle;
import sharptally.api.job.CompareJob.Watch;
import sharptally.api.job.CompareJob.Watcher;

/** A bar per match on the terminal's message stream; nothing where that is no terminal. */
public final class ProgressBars {
    private static final int UPDATE_MILLIS = 200;
    private static final int MAX_COLUMNS = 100;

    private ProgressBars() {}

    /**
     * @param workers how many matches are worked on at once; with more than one, one bar counts the rows of all
     */
    public static Watcher watcher(Screen screen, int workers) {
        if (!screen.errTerminal()) {
            return (match, expectedRows) -> new Bar(Optional.empty());
        }
        if (workers == 1) {
            return (match, expectedRows) -> new Bar(Optional.of(bar(screen, match.name(), expectedRows)));
        }
        AtomicInteger open = new AtomicInteger();
        AtomicReference<Optional<ProgressBar>> shared = new AtomicReference<>(Optional.empty());
        return (match, expectedRows) -> {
            synchronized (shared) {
                if (open.getAndIncrement() == 0) {
                    shared.set(Optional.of(bar(screen, "rows", -1)));
                }
                return new SharedBar(shared, open, new AtomicLong());
            }
        };
    }

    private static ProgressBar bar(Screen screen, String name, long rows) {
        return new ProgressBarBuilder()
                .setTaskName(name)
                .setInitialMax(rows)
                .setUpdateIntervalMillis(UPDATE_MILLIS)
                .setStyle(ProgressBarStyle.ASCII)
                .setUnit(" rows", 1)
                .showSpeed()
                .clearDisplayOnFinish()
                .setConsumer(new OneLine(screen.err(), Math.min(screen.columns(), MAX_COLUMNS) - 1))
                .build();
    }

    /** A bar of its own for work that is counted. */
    public interface Counter extends AutoCloseable {
        /** So much is done. */
        void to(long done);

        @Override
        void close();
    }

    public static Counter counter(Screen screen, String name, long expected) {
        Optional<ProgressBar> bar = screen.errTerminal() ? Optional.of(bar(screen, name, expected)) : Optional.empty();
        return new Counter() {
            @Override
            public void to(long done) {
                bar.ifPresent(b -> b.stepTo(done));
            }

            @Override
            public void close() {
                bar.ifPresent(ProgressBar::close);
            }
        };
    }

    /** One of several matches that share a bar; the last one that ends takes it away. */
    private record SharedBar(AtomicReference<Optional<ProgressBar>> bar, AtomicInteger open, AtomicLong told)
            implements Watch {
        @Override
        public void rows(long source, long target) {
            long more = source - told.getAndSet(source);
            bar.get().ifPresent(b -> b.stepBy(more));
        }

        @Override
        public void close() {
            synchronized (bar) {
                if (open.decrementAndGet() == 0) {
                    bar.getAndSet(Optional.empty()).ifPresent(ProgressBar::close);
                }
            }
        }
    }

    private record Bar(Optional<ProgressBar> bar) implements Watch {
        @Override
        public void rows(long source, long target) {
            bar.ifPresent(b -> b.stepTo(source));
        }

        @Override
        public void close() {
            bar.ifPresent(ProgressBar::close);
        }
    }

    /** Draws over the same line again and again, and leaves it empty. */
    private record OneLine(PrintStream out, int maxLength) implements ProgressBarConsumer {
        @Override
        public int getMaxRenderedLength() {
            return maxLength;
        }

        @Override
        public void accept(String bar) {
            out.print('\r' + bar);
            out.flush();
        }

        @Override
        public void clear() {
            accept(" ".repeat(maxLength) + '\r');
        }

        @Override
        public void close() {
            clear();
        }
    }
}
