package sharptally.core.common;

import java.util.List;

/**
 * What tells some rows from others.
 *
 * @param traits one, or two that hold together
 * @param differing rows that differ and have it, of those that were looked at
 * @param ofDiffering rows that differ and were looked at
 * @param same rows that are the same and have it as well, of those that were looked at
 * @param ofSame rows that are the same and were looked at
 */
public record Common(List<Trait> traits, long differing, long ofDiffering, long same, long ofSame) {
    public Common {
        traits = List.copyOf(traits);
    }

    /** How much it tells, from 0, of what as many of both have, to 1, of what all that differ have and nothing else. */
    public double weight() {
        return (double) differing / ofDiffering - (double) same / Math.max(1, ofSame);
    }

    /** As a sentence has it. */
    public String words() {
        return String.join(" and ", traits.stream().map(Trait::words).toList());
    }
}
