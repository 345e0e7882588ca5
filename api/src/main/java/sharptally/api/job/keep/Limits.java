package sharptally.api.job.keep;

import java.time.Duration;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BooleanSupplier;
import sharptally.core.compare.PartKeeper;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;

/** When a comparison is ended before its end. Safe for use by several threads. */
public final class Limits {
    private final OptionalLong findings;
    private final Optional<Duration> time;
    private final BooleanSupplier stopAsked;
    private final long began = System.nanoTime();
    private final AtomicLong found = new AtomicLong();
    private volatile Optional<String> reached = Optional.empty();

    public Limits(OptionalLong findings, Optional<Duration> time, BooleanSupplier stopAsked) {
        this.findings = findings;
        this.time = time;
        this.stopAsked = stopAsked;
    }

    /** Whether the work is to end. */
    public boolean stop() {
        if (time.isPresent() && System.nanoTime() - began >= time.get().toNanos()) {
            reached = Optional.of("stopped after " + time.get().toSeconds() + " s, as asked");
        }
        return reached.isPresent() || stopAsked.getAsBoolean();
    }

    /** The failure as the user should see it. */
    public ToolException told(ToolException failure, String match) {
        return failure.kind() == ErrorKind.INCOMPLETE && reached.isPresent()
                ? new ToolException(ErrorKind.INCOMPLETE, reached.get(), match, Hint.RESUME, failure)
                : failure;
    }

    /** The same sink, with its findings counted. */
    PartKeeper.Sink counted(PartKeeper.Sink sink) {
        if (findings.isEmpty()) {
            return sink;
        }
        return new PartKeeper.Sink() {
            @Override
            public void accept(Finding finding) {
                if (found.incrementAndGet() > findings.getAsLong()) {
                    reached = Optional.of("stopped at " + findings.getAsLong() + " findings, as asked");
                    throw new ToolException(ErrorKind.INCOMPLETE, reached.get(), "findings", "");
                }
                sink.accept(finding);
            }

            @Override
            public void restart() {
                sink.restart();
            }

            @Override
            public void close() {
                sink.close();
            }
        };
    }
}
