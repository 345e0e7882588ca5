package sharptally.engines.postgresql;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.HexFormat;
import java.util.Locale;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of PostgreSQL. */
final class PgLiterals extends Literals {
    @Override
    protected String whole(long value) {
        return value < 0 ? "(" + value + ")" : Long.toString(value);
    }

    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        String plain = value.toPlainString();
        return value.signum() < 0 ? "(" + plain + ")" : plain;
    }

    @Override
    protected String real(Value.Real value) {
        return "'" + value + "'::real";
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        boolean decimal = column.type().filter(t -> t.kind() == Kind.DECIMAL).isPresent();
        return "'" + value + (decimal ? "'::numeric" : "'::double precision");
    }

    @Override
    protected String bytes(byte[] value) {
        return "'\\x" + HexFormat.of().formatHex(value) + "'::bytea";
    }

    @Override
    protected String instant(String text) {
        int era = text.indexOf(" BC");
        String zoned = era < 0 ? text + "+00" : text.substring(0, era) + "+00" + text.substring(era);
        return "TIMESTAMPTZ '" + zoned + "'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return text(value.text()) + "::" + column.declaredType();
    }

    /** Java counts years before the common era from zero downwards, PostgreSQL from one upwards. */
    @Override
    protected String day(LocalDate date, String text) {
        if (date.getYear() > 0) {
            return text.startsWith("+") ? text.substring(1) : text;
        }
        String rest = text.substring(text.indexOf('-', 1));
        return String.format(Locale.ROOT, "%04d%s BC", 1 - date.getYear(), rest);
    }

    /** One line, whatever the text: a statement stays on its line. */
    @Override
    protected String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ' || c == '\\' || c == 0x7F)) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("E'");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\'' -> out.append("''");
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default ->
                    out.append(
                            c < ' ' || c == 0x7F
                                    ? String.format(Locale.ROOT, "\\u%04x", (int) c)
                                    : Character.toString(c));
            }
        }
        return out.append("'").toString();
    }
}
