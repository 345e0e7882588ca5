package sharptally.cli;

import java.util.Optional;
import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBar;
import me.tongfei.progressbar.ProgressBarBuilder;
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
                                .setMaxRenderedLength(Math.min(screen.columns(), MAX_COLUMNS))
                                .setConsumer(new ConsoleProgressBarConsumer(screen.err()))
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
}
