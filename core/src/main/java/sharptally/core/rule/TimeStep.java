package sharptally.core.rule;

import java.util.Locale;

/** A unit to which times are cut. */
public enum TimeStep {
    MICROSECOND(1_000L),
    MILLISECOND(1_000_000L),
    SECOND(1_000_000_000L),
    MINUTE(60_000_000_000L),
    HOUR(3_600_000_000_000L),
    DAY(86_400_000_000_000L);

    private final long nanos;

    TimeStep(long nanos) {
        this.nanos = nanos;
    }

    /** Length in nanoseconds. */
    public long nanos() {
        return nanos;
    }

    /** The word that users write. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
