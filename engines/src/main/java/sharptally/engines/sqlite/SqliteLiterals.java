package sharptally.engines.sqlite;

import java.math.BigDecimal;
import java.util.HexFormat;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of SQLite. */
final class SqliteLiterals extends Literals {
    @Override
    protected String truth(boolean value) {
        return value ? "1" : "0";
    }

    /** The smallest number can't be written: its digits without the sign are too large. */
    @Override
    protected String whole(long value) {
        return value == Long.MIN_VALUE ? "(-9223372036854775807 - 1)" : Long.toString(value);
    }

    /** As a number it would be rounded to a floating value before a column of text makes text of it. */
    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        boolean asText = column.type().filter(t -> t.kind() == Kind.TEXT).isPresent();
        boolean whole =
                value.stripTrailingZeros().scale() <= 0 && value.toBigInteger().bitLength() < Long.SIZE;
        return asText ? text(value.toPlainString()) : whole ? value.toPlainString() : number(value.doubleValue());
    }

    @Override
    protected String real(Value.Real value) {
        return number(value.value());
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return number(value.value());
    }

    @Override
    protected String brokenText(byte[] bytes) {
        return "CAST(" + hex(bytes) + " AS TEXT)";
    }

    @Override
    protected String bytes(byte[] value) {
        return hex(value);
    }

    @Override
    protected String date(String text) {
        return text(text);
    }

    @Override
    protected String time(String text, ColumnShape column) {
        return text(text);
    }

    @Override
    protected String timestamp(String text, ColumnShape column) {
        return text(text);
    }

    @Override
    protected String instant(String text) {
        return text(text + "Z");
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return text(value.text());
    }

    private static String number(double value) {
        return Double.isInfinite(value)
                ? (value > 0 ? "9e999" : "-9e999")
                : Double.isNaN(value) ? "NULL" : RealLiteral.of(value);
    }

    private static String hex(byte[] bytes) {
        return "x'" + HexFormat.of().formatHex(bytes) + "'";
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        if (text.indexOf('\0') >= 0) {
            return "CAST(" + hex(text.getBytes(java.nio.charset.StandardCharsets.UTF_8)) + " AS TEXT)";
        }
        String quoted = "'" + text.replace("'", "''") + "'";
        if (text.indexOf('\n') < 0 && text.indexOf('\r') < 0) {
            return quoted;
        }
        return "(" + quoted.replace("\r", "' || char(13) || '").replace("\n", "' || char(10) || '") + ")";
    }
}
