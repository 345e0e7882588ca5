package sharptally.core.finding;

import java.util.Optional;

/** Where a row stands on each side, such as {@code reading.csv:17}; empty where a side has none or does not tell. */
public record Positions(Optional<String> source, Optional<String> target) {
    public static final Positions UNKNOWN = new Positions(Optional.empty(), Optional.empty());

    public Positions reversed() {
        return new Positions(target, source);
    }
}
