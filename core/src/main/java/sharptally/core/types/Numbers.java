package sharptally.core.types;

import java.math.BigDecimal;
import java.util.Optional;

/** The numbers that values are. */
public final class Numbers {
    private Numbers() {}

    /**
     * The exact number that a value is, a floating one standing for its shortest decimal; empty for NULL, for what is no
     * number, and for NaN and the infinities.
     */
    public static Optional<BigDecimal> of(Value value) {
        if (value instanceof Value.Int whole) {
            return Optional.of(BigDecimal.valueOf(whole.value()));
        } else if (value instanceof Value.Decimal decimal) {
            return Optional.of(decimal.value());
        } else if (value instanceof Value.Double floating && Double.isFinite(floating.value())) {
            return Optional.of(ShortestDecimal.of(floating.value()));
        } else if (value instanceof Value.Real floating && Float.isFinite(floating.value())) {
            return Optional.of(ShortestDecimal.of(floating.value()));
        }
        return Optional.empty();
    }
}
