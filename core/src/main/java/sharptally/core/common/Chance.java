package sharptally.core.common;

/** How likely a difference between two groups of rows is if there is nothing behind it. */
final class Chance {
    /** So many rows can be reckoned with. */
    static final int MOST = 200_000;

    private static final double[] LOG_FACTORIAL = new double[MOST];

    static {
        for (int i = 2; i < MOST; i++) {
            LOG_FACTORIAL[i] = LOG_FACTORIAL[i - 1] + Math.log(i);
        }
    }

    private Chance() {}

    private static double choose(int n, int k) {
        return LOG_FACTORIAL[n] - LOG_FACTORIAL[k] - LOG_FACTORIAL[n - k];
    }

    /**
     * The logarithm of the probability that of rows chosen at random as many or more have a trait (Fisher's exact test, one side).
     *
     * @param chosen rows that were chosen, {@code with} of which have it
     * @param others rows that were not, {@code otherWith} of which have it
     */
    static double log(int with, int chosen, int otherWith, int others) {
        int all = chosen + others;
        int having = with + otherWith;
        double most = Double.NEGATIVE_INFINITY;
        double sum = 0;
        double whole = choose(all, chosen);
        for (int k = with; k <= Math.min(chosen, having); k++) {
            double term = choose(having, k) + choose(all - having, chosen - k) - whole;
            if (term <= most) {
                sum += Math.exp(term - most);
                if (term < most - 40) {
                    break;
                }
            } else {
                sum = sum * Math.exp(most - term) + 1;
                most = term;
            }
        }
        return Math.min(0, most + Math.log(sum));
    }
}
