package sharptally.core.draft;

import java.math.BigDecimal;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import sharptally.core.finding.Difference;
import sharptally.core.rule.Rule;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/**
 * A rule by which values are the same that were rounded on one side. A step that is coarse enough hides whatever differs, as a
 * sign that was lost; so one of two values has to be of that step, or both be nearly alike.
 */
record Rounding(Rule rule) {
    private static final double SHARE = 0.9;
    private static final BigDecimal NEARLY = new BigDecimal("0.000001");

    static Optional<Rounding> of(Proposal.Change change) {
        return change instanceof Proposal.ByRules by
                ? by.rules().stream()
                        .filter(r -> r instanceof Rule.Decimals || r instanceof Rule.Precision)
                        .findFirst()
                        .map(Rounding::new)
                : Optional.empty();
    }

    /** Whether what it explains was rounded. */
    boolean isOf(Explaining explaining, List<Difference> differences) {
        List<Difference> explained =
                differences.stream().filter(explaining::explains).toList();
        return explained.stream().filter(this::isRounded).count() >= explained.size() * SHARE;
    }

    private boolean isRounded(Difference difference) {
        if (rule instanceof Rule.Precision precision) {
            return isWhole(difference.source(), precision) || isWhole(difference.target(), precision);
        }
        Optional<BigDecimal> source = Numbers.of(difference.source());
        Optional<BigDecimal> target = Numbers.of(difference.target());
        if (source.isEmpty() || target.isEmpty()) {
            return false;
        }
        int places = ((Rule.Decimals) rule).places();
        BigDecimal greater = source.get().abs().max(target.get().abs());
        return source.get().stripTrailingZeros().scale() <= places
                || target.get().stripTrailingZeros().scale() <= places
                || source.get().subtract(target.get()).abs().compareTo(greater.multiply(NEARLY)) <= 0;
    }

    private static boolean isWhole(Value value, Rule.Precision precision) {
        if (value instanceof Value.Timestamp timestamp) {
            return isWhole(timestamp.value().toLocalTime().toNanoOfDay(), precision);
        }
        if (value instanceof Value.Instant instant) {
            return isWhole(instant.value().atZone(ZoneOffset.UTC).toLocalTime().toNanoOfDay(), precision);
        }
        return value instanceof Value.Time time && isWhole(time.nanos(), precision);
    }

    private static boolean isWhole(long nanos, Rule.Precision precision) {
        return nanos % precision.unit().nanos() == 0;
    }
}
