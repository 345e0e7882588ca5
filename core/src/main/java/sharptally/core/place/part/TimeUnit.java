package sharptally.core.place.part;

import java.util.Locale;

/** A span of time by which rows are grouped, written as the beginning of an ISO date and time, in UTC. */
public enum TimeUnit {
    YEAR(4),
    MONTH(7),
    DAY(10),
    HOUR(13);

    private final int letters;

    TimeUnit(int letters) {
        this.letters = letters;
    }

    /** How many letters of {@code 2026-11-23 14} tell the span. */
    public int letters() {
        return letters;
    }

    /** The word that users write. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
