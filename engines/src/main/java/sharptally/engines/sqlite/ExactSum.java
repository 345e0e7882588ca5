package sharptally.engines.sqlite;

import java.math.BigDecimal;
import java.sql.SQLException;
import org.sqlite.Function;

/**
 * A sum without rounding: a floating value stands for its shortest decimal, text for the number that it writes. NULL
 * and what is no number are passed over; the sum of nothing is NULL.
 */
final class ExactSum extends Function.Aggregate {
    static final String NAME = "tally_exact_sum";

    private static final int INTEGER = 1;
    private static final int FLOAT = 2;
    private static final int TEXT = 3;

    private long small;
    private BigDecimal large = BigDecimal.ZERO;
    private boolean any;

    @Override
    protected void xStep() throws SQLException {
        switch (value_type(0)) {
            case INTEGER -> {
                long value = value_long(0);
                long sum = small + value;
                if (((small ^ sum) & (value ^ sum)) < 0) {
                    large = large.add(BigDecimal.valueOf(small));
                    small = value;
                } else {
                    small = sum;
                }
                any = true;
            }
            case FLOAT -> {
                double value = value_double(0);
                if (Double.isFinite(value)) {
                    add(BigDecimal.valueOf(value));
                }
            }
            case TEXT -> {
                try {
                    add(new BigDecimal(value_text(0).strip()));
                } catch (NumberFormatException e) {
                    // no number, so nothing to add
                }
            }
            default -> {}
        }
    }

    private void add(BigDecimal value) {
        large = large.add(value);
        any = true;
    }

    @Override
    protected void xFinal() throws SQLException {
        if (any) {
            BigDecimal sum = large.add(BigDecimal.valueOf(small));
            result(sum.signum() == 0 ? "0" : sum.stripTrailingZeros().toPlainString());
        } else {
            result();
        }
    }
}
