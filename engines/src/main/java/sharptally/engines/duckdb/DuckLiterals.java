package sharptally.engines.duckdb;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.HexFormat;
import java.util.Locale;
import java.util.UUID;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of DuckDB. */
final class DuckLiterals extends Literals {
    /** Letters of {@code -03-15}. */
    private static final int MONTH_AND_DAY = 6;

    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        return "CAST('" + value.toPlainString() + "' AS " + column.declaredType() + ")";
    }

    @Override
    protected String real(Value.Real value) {
        return "CAST('" + value.value() + "' AS FLOAT)";
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return "CAST('" + value.value() + "' AS DOUBLE)";
    }

    @Override
    protected String bytes(byte[] value) {
        return "unhex('" + HexFormat.of().formatHex(value) + "')";
    }

    @Override
    protected String time(String text, ColumnShape column) {
        return "CAST('" + text + "' AS " + column.declaredType() + ")";
    }

    @Override
    protected String timestamp(String text, ColumnShape column) {
        return "CAST('" + text + "' AS " + column.declaredType() + ")";
    }

    @Override
    protected String instant(String text) {
        return "TIMESTAMPTZ '" + text + "+00'";
    }

    @Override
    protected String uuid(UUID value) {
        return "UUID '" + value + "'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        String text = DuckTypes.isNested(column.declaredType())
                ? "CAST(" + text(value.text()) + " AS JSON)"
                : text(value.text());
        return "CAST(" + text + " AS " + column.declaredType() + ")";
    }

    /** Java counts years before the common era from zero downwards, DuckDB from one upwards. */
    @Override
    protected String day(LocalDate date, String text) {
        if (date.getYear() > 0) {
            return text.startsWith("+") ? text.substring(1) : text;
        }
        // Its mark stands between the date and the time.
        String rest = text.substring(text.indexOf('-', 1));
        return String.format(
                Locale.ROOT,
                "%04d%s (BC)%s",
                1 - date.getYear(),
                rest.substring(0, MONTH_AND_DAY),
                rest.substring(MONTH_AND_DAY));
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ')) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("('");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            out.append(c == '\'' ? "''" : c < ' ' ? "' || chr(" + (int) c + ") || '" : Character.toString(c));
        }
        return out.append("')").toString();
    }
}
