package sharptally.core.shape;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Which rows of a table are meant; a place that reads them renders it in its own language. Immutable. */
public sealed interface RowFilter {
    /**
     * Rows that meet a condition of the user's own.
     *
     * @param text in the language of the place, such as SQL
     */
    record Condition(String text) implements RowFilter {}

    /** How a value is compared with another one, in the order of keys. */
    enum Comparison {
        LESS("<"),
        AT_MOST("<="),
        EQUAL("="),
        OTHER("!="),
        AT_LEAST(">="),
        MORE(">");

        private final String sign;

        Comparison(String sign) {
            this.sign = sign;
        }

        /** As users write it. */
        public String sign() {
            return sign;
        }

        /** The one with this sign, which may be {@code <>} as well. */
        public static Optional<Comparison> of(String sign) {
            String plain = sign.replace("<>", "!=");
            return Arrays.stream(values()).filter(c -> c.sign.equals(plain)).findFirst();
        }

        /** Whether it holds, by what a comparator says of the two. */
        public boolean holds(int order) {
            return switch (this) {
                case LESS -> order < 0;
                case AT_MOST -> order <= 0;
                case EQUAL -> order == 0;
                case OTHER -> order != 0;
                case AT_LEAST -> order >= 0;
                case MORE -> order > 0;
            };
        }
    }

    /** Rows whose column holds a value that compares so with this one. */
    record Compared(ColumnShape column, Comparison comparison, Value value) implements RowFilter {}

    /** Rows whose column holds NULL, or where {@code held} a value. */
    record Null(ColumnShape column, boolean held) implements RowFilter {}

    /**
     * Values from one on, up to another one.
     *
     * @param from empty where there is no least one
     * @param to empty where there is no greatest one
     * @param closed whether the last one is of them
     */
    record Span(Optional<Value> from, Optional<Value> to, boolean closed) {
        /** One value alone. */
        public static Span of(Value value) {
            return new Span(Optional.of(value), Optional.of(value), true);
        }

        /** How its ends are held against a value. */
        public Comparison end() {
            return closed ? Comparison.AT_MOST : Comparison.LESS;
        }
    }

    /**
     * Rows of a partition: those whose column holds a value of one of the spans, or those of none of them.
     *
     * @param nulls whether NULL counts as one of the spans
     * @param others whether it is the rows outside
     */
    record Partition(ColumnShape column, List<Span> spans, boolean nulls, boolean others) implements RowFilter {
        public Partition {
            spans = List.copyOf(spans);
        }
    }

    /**
     * Rows in a sample: so many of so many shares of all keys, told apart by the hash of the key in the common form, so
     * that every place chooses the same keys.
     *
     * @param comparedAs the kinds of the key's columns, one for each
     * @param ofShares a power of two
     */
    record Sample(List<ColumnShape> key, List<Kind> comparedAs, long shares, long ofShares) implements RowFilter {
        public Sample {
            key = List.copyOf(key);
            comparedAs = List.copyOf(comparedAs);
        }
    }
}
