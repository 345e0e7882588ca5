package sharptally.core.totals;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.Optional;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/** Arithmetic on figures that a database worked out. */
final class Figures {
    private static final int MEAN_PLACES = 10;
    private static final int MAX_DIGITS = 40;

    private Figures() {}

    /** The mean out of a sum and the number of values; NULL where there is none. */
    static Value mean(Value sum, Value filled) {
        Optional<BigDecimal> count = Numbers.of(filled).filter(n -> n.signum() > 0);
        Optional<BigDecimal> total = Numbers.of(sum);
        if (count.isEmpty() || total.isEmpty()) {
            return count.isEmpty() || sum instanceof Value.Null ? Value.NULL : sum;
        }
        return new Value.Decimal(plain(
                total.get().divide(count.get(), MathContext.DECIMAL128).setScale(MEAN_PLACES, RoundingMode.HALF_UP)));
    }

    /** Without zeros at the end. */
    static BigDecimal plain(BigDecimal number) {
        BigDecimal stripped = number.stripTrailingZeros();
        return stripped.scale() < 0 ? stripped.setScale(0) : stripped;
    }

    /** As people read and write it: numbers without zeros at the end, and floating ones without an exponent too. */
    static String text(Value value) {
        Optional<BigDecimal> number = Numbers.of(value);
        boolean isShort = number.filter(n -> n.precision() - n.scale() < MAX_DIGITS && n.scale() < MAX_DIGITS)
                .isPresent();
        return isShort ? plain(number.get()).toPlainString() : value.toString();
    }

    /** As {@link #text}, but text in quotes, so that an empty one shows. */
    static String shown(Value value) {
        return value instanceof Value.Text text ? "'" + text.value() + "'" : text(value);
    }
}
