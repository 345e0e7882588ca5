package sharptally.cli;

import java.io.PrintStream;
import java.util.Optional;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarConsumer;
import me.tongfei.progressbar.ProgressBarStyle;
import sharptally.cli.job.CompareJob.Watch;
import sharptally.cli.job.CompareJob.Watcher;

/** A bar per match on the terminal's message stream; nothing where that is no terminal. */
final class ProgressBars {
    private static final int UPDATE_MILLIS = 200;
    private static final int MAX_COLUMNS = 100;

    private ProgressBars() {}

    static Watcher watcher(Screen screen) {
        return (match, expectedRows) -> new Bar(
                screen.errTerminal()
                        ? Optional.of(new ProgressBarBuilder()
                                .setTaskName(match.name())
                                .setInitialMax(expectedRows)
                                .setUpdateIntervalMillis(UPDATE_MILLIS)
                                .setStyle(ProgressBarStyle.ASCII)
                                .setUnit(" rows", 1)
                                .showSpeed()
                                .clearDisplayOnFinish()
                                .setConsumer(new OneLine(screen.err(), Math.min(screen.columns(), MAX_COLUMNS) - 1))
                                .build())
                        : Optional.empty());
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
