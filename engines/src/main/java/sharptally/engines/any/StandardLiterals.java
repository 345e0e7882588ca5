package sharptally.engines.any;

import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of the SQL standard. */
final class StandardLiterals extends Literals {
    @Override
    protected String real(Value.Real value) {
        return exponent(Float.toString(value.value()));
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return exponent(Double.toString(value.value()));
    }

    @Override
    protected String text(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    @Override
    protected String instant(String text) {
        return "TIMESTAMP '" + text + "+00:00'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return text(value.text());
    }

    private static String exponent(String digits) {
        return digits.contains("E") ? digits : digits + "E0";
    }
}
