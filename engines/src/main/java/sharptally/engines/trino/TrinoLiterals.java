package sharptally.engines.trino;

import java.math.BigDecimal;
import java.util.UUID;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of Trino, each of a type of its own. */
final class TrinoLiterals extends Literals {
    @Override
    protected String whole(long value) {
        return "BIGINT '" + value + "'";
    }

    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        return "DECIMAL '" + value.toPlainString() + "'";
    }

    @Override
    protected String real(Value.Real value) {
        return "REAL '" + value.value() + "'";
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return "DOUBLE '" + value.value() + "'";
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ')) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("U&'");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\'' -> out.append("''");
                case '\\' -> out.append("\\\\");
                default -> out.append(c < ' ' ? String.format(java.util.Locale.ROOT, "\\%04X", (int) c) : c);
            }
        }
        return out.append("'").toString();
    }

    @Override
    protected String instant(String text) {
        return "TIMESTAMP '" + text + " UTC'";
    }

    @Override
    protected String uuid(UUID value) {
        return "UUID '" + value + "'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        if (value.type().equals("json")) {
            String json = "JSON " + text(value.text());
            return column.declaredType().equals("json") ? json : "CAST(" + json + " AS " + column.declaredType() + ")";
        }
        return "CAST(" + text(value.text()) + " AS " + column.declaredType() + ")";
    }
}
