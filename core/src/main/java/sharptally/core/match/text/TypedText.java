package sharptally.core.match.text;

import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Values of a column as a person writes them. */
public final class TypedText {
    private TypedText() {}

    /**
     * @throws ToolException when the column can't hold such a value
     */
    public static Value value(ColumnShape column, String text) {
        Kind kind = column.type().orElseThrow().kind();
        Column cell = new Column(1);
        cell.addText(text);
        Value value = new Cast(CanonicalType.of(Kind.TEXT), kind == Kind.ANY ? Kind.TEXT : kind)
                .apply(cell)
                .value(0);
        if (value instanceof Value.Text && kind != Kind.TEXT && kind != Kind.ANY) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not a value of column " + column.name(),
                    text,
                    "it is of type " + column.declaredType());
        }
        return value;
    }
}
