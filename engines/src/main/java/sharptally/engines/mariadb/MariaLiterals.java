package sharptally.engines.mariadb;

import java.util.HexFormat;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of MariaDB. */
final class MariaLiterals extends Literals {
    @Override
    protected String truth(boolean value) {
        return value ? "1" : "0";
    }

    @Override
    protected String real(Value.Real value) {
        return Float.isFinite(value.value()) ? Double.toString(value.value()) : text(value.toString());
    }

    /** With an exponent it is a double; without one it would be an exact decimal. */
    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        String digits = Double.toString(value.value());
        return !Double.isFinite(value.value()) ? text(digits) : digits.contains("E") ? digits : digits + "E0";
    }

    @Override
    protected String bytes(byte[] value) {
        return value.length == 0 ? "''" : "x'" + HexFormat.of().formatHex(value) + "'";
    }

    @Override
    protected String date(String text) {
        return "'" + text + "'";
    }

    @Override
    protected String time(String text, ColumnShape column) {
        return "'" + text + "'";
    }

    @Override
    protected String timestamp(String text, ColumnShape column) {
        return "'" + text + "'";
    }

    @Override
    protected String instant(String text) {
        return "'" + text + "'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return value.type().equals("bits") ? "b'" + value.text() + "'" : text(value.text());
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        StringBuilder out = new StringBuilder("'");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\'' -> out.append("''");
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\0' -> out.append("\\0");
                case '\u001a' -> out.append("\\Z");
                default -> out.append(c);
            }
        }
        return out.append("'").toString();
    }
}
