package sharptally.core.finding;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * Something that may have made two values of one column differ, told from the values alone: it helps to find the fault, and
 * is never a reason to hold them equal. One pair of values may have several; which of them is the cause of a whole column is
 * judged by {@link ColumnCause}.
 *
 * @param words the same for all pairs of one cause, such as {@code trailing spaces} or {@code times 1000}
 * @param sort how much it takes to believe it
 * @param order among causes that explain as much, the least is told
 */
public record LikelyCause(String words, Sort sort, int order) {
    /** How much it takes to believe a cause. */
    public enum Sort {
        /** What is so of the pair itself, such as that it differs in letter case alone. */
        FACT(1, 0),
        /** What a single pair may well be by chance, such as a number ten times as large. */
        GUESS(2, 0.05),
        /** What every pair is in some amount, such as an offset; it has to be the same for most of them. */
        AMOUNT(2, 0.5);

        private final int leastRows;
        private final double leastShare;

        Sort(int leastRows, double leastShare) {
            this.leastRows = leastRows;
            this.leastShare = leastShare;
        }

        /** Whether a cause of this sort is told that explains so many rows of those that differ. */
        boolean isTold(long rows, long of) {
            return rows >= leastRows && rows >= leastShare * of;
        }
    }

    /**
     * All that may have made the two values differ.
     *
     * @param comparedAs what the column is compared as
     */
    public static List<LikelyCause> all(Kind comparedAs, Value source, Value target) {
        List<LikelyCause> found = new ArrayList<>();
        if (source instanceof Value.Null || target instanceof Value.Null) {
            found.add(ofNull(source, target));
            return found;
        }
        switch (comparedAs) {
            case INTEGER, DECIMAL, FLOAT, DOUBLE ->
                NumberCauses.add(
                        found,
                        source.beside(target).toString(),
                        target.beside(source).toString());
            case TIMESTAMP, INSTANT -> TimeCauses.ofTimes(found, source, target);
            case DATE -> TimeCauses.ofDates(found, source, target);
            case TEXT, ANY, OTHER -> TextCauses.add(found, source.toString(), target.toString());
            default -> {
                // Of two values that there are, any other is the one that is left; of bytes nothing can be told.
            }
        }
        return found;
    }

    /** The likeliest cause of one pair by itself; empty where nothing is known. */
    public static Optional<LikelyCause> of(Kind comparedAs, Value source, Value target) {
        return all(comparedAs, source, target).stream().min(Comparator.comparingInt(LikelyCause::order));
    }

    private static LikelyCause ofNull(Value source, Value target) {
        if (source instanceof Value.Null) {
            return fact(target.toString().isEmpty() ? "NULL to empty" : "NULL to a value", 0);
        }
        return fact(source.toString().isEmpty() ? "empty to NULL" : "a value to NULL", 0);
    }

    static LikelyCause fact(String words, int order) {
        return new LikelyCause(words, Sort.FACT, order);
    }

    static LikelyCause guess(String words, int order) {
        return new LikelyCause(words, Sort.GUESS, order);
    }

    static LikelyCause amount(String words, int order) {
        return new LikelyCause(words, Sort.AMOUNT, order);
    }
}
