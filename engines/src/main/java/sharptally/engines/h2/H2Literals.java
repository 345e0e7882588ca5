package sharptally.engines.h2;

import java.time.LocalDate;
import java.util.Locale;
import java.util.UUID;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of H2. */
final class H2Literals extends Literals {
    @Override
    protected String real(Value.Real value) {
        return "CAST('" + value.value() + "' AS REAL)";
    }

    /** A bare 0.1 would be an exact decimal, which no binary value equals. */
    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return "CAST('" + value.value() + "' AS DOUBLE PRECISION)";
    }

    /** Java writes years past 9999 with a plus, which H2 does not read. */
    @Override
    protected String day(LocalDate date, String text) {
        return text.startsWith("+") ? text.substring(1) : text;
    }

    @Override
    protected String instant(String text) {
        return "TIMESTAMP WITH TIME ZONE '" + text + "+00'";
    }

    @Override
    protected String uuid(UUID value) {
        return "UUID '" + value + "'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return value.type().equals("json")
                ? "JSON " + text(value.text())
                : "CAST(" + text(value.text()) + " AS " + column.declaredType() + ")";
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ' || c == 0x7F || Character.isSurrogate((char) c))) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("U&'");
        text.codePoints().forEach(c -> {
            if (c == '\'') {
                out.append("''");
            } else if (c == '\\') {
                out.append("\\\\");
            } else if (c < ' ' || c == 0x7F) {
                out.append(String.format(Locale.ROOT, "\\%04x", c));
            } else if (c > 0xFFFF || c >= Character.MIN_SURROGATE && c <= Character.MAX_SURROGATE) {
                out.append(String.format(Locale.ROOT, "\\+%06x", c));
            } else {
                out.appendCodePoint(c);
            }
        });
        return out.append("'").toString();
    }
}
