package sharptally.core.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.function.BiFunction;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;

/**
 * A statement whose values stand apart from its text, so that one statement serves both ways: with values bound, or
 * written out as literals. Immutable.
 *
 * @param pieces text between the values: one more than there are values
 */
public record SqlText(List<String> pieces, List<Bound> values) {
    /** A value and the column that it is for. */
    public record Bound(Value value, ColumnShape column) {}

    public SqlText {
        pieces = List.copyOf(pieces);
        values = List.copyOf(values);
        if (pieces.size() != values.size() + 1) {
            throw new IllegalStateException(pieces.size() + " pieces of text for " + values.size() + " values");
        }
    }

    /** The text with {@code render} in place of each value. */
    public String render(BiFunction<Value, ColumnShape, String> render) {
        StringBuilder out = new StringBuilder(pieces.get(0));
        for (int i = 0; i < values.size(); i++) {
            out.append(render.apply(values.get(i).value(), values.get(i).column()));
            out.append(pieces.get(i + 1));
        }
        return out.toString();
    }

    /** Collects a statement from left to right. */
    public static final class Builder {
        private final List<String> pieces = new ArrayList<>();
        private final List<Bound> values = new ArrayList<>();
        private final StringBuilder text = new StringBuilder();

        public Builder text(String more) {
            text.append(more);
            return this;
        }

        public Builder value(Value value, ColumnShape column) {
            pieces.add(text.toString());
            text.setLength(0);
            values.add(new Bound(value, column));
            return this;
        }

        public Builder append(SqlText more) {
            for (int i = 0; i < more.values().size(); i++) {
                text(more.pieces().get(i));
                value(more.values().get(i).value(), more.values().get(i).column());
            }
            return text(more.pieces().get(more.values().size()));
        }

        public SqlText build() {
            List<String> all = new ArrayList<>(pieces);
            all.add(text.toString());
            return new SqlText(all, values);
        }
    }
}
