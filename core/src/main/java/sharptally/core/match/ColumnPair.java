package sharptally.core.match;

import sharptally.core.rows.Cast;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;

/** One column of each side, held against each other as values of one kind. Both have a canonical type. */
public record ColumnPair(ColumnShape source, ColumnShape target, Kind comparedAs) {
    /** The name by which findings and results speak of the pair: the source's. */
    public String name() {
        return source.name();
    }

    public Cast sourceCast() {
        return new Cast(source.type().orElseThrow(), comparedAs, digits());
    }

    public Cast targetCast() {
        return new Cast(target.type().orElseThrow(), comparedAs, digits());
    }

    /** Digits of a second that both sides can hold. */
    private int digits() {
        return Math.min(
                source.type().orElseThrow().digits(),
                target.type().orElseThrow().digits());
    }
}
