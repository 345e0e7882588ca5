package sharptally.engines.sqlserver;

import java.util.HexFormat;
import java.util.UUID;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals that no language or date format of a session changes. */
final class SqlServerLiterals extends Literals {
    private static final int DIGITS = 7;

    @Override
    protected String truth(boolean value) {
        return "CAST(" + (value ? 1 : 0) + " AS bit)";
    }

    /** Longer ones would be decimals, which no index of whole numbers serves. */
    @Override
    protected String whole(long value) {
        return (int) value == value ? Long.toString(value) : "CAST(" + value + " AS bigint)";
    }

    @Override
    protected String real(Value.Real value) {
        return "CAST(" + exponent(Float.toString(value.value())) + " AS real)";
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        return exponent(Double.toString(value.value()));
    }

    private static String exponent(String digits) {
        return digits.contains("E") ? digits : digits + "E0";
    }

    /** One line, whatever the text. Pieces that are put together are cut to 4,000 letters unless the first may be long. */
    @Override
    protected String text(String text) {
        if (text.chars().noneMatch(c -> c < ' ')) {
            return "N'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("(CONVERT(nvarchar(max), N'");
        boolean first = true;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c < ' ') {
                out.append(first ? "')" : "'")
                        .append(" + NCHAR(")
                        .append((int) c)
                        .append(") + N'");
                first = false;
            } else {
                out.append(c == '\'' ? "''" : Character.toString(c));
            }
        }
        return out.append("')").toString();
    }

    @Override
    protected String bytes(byte[] value) {
        return "0x" + HexFormat.of().formatHex(value);
    }

    @Override
    protected String date(String text) {
        return "CONVERT(date, '" + text + "', 23)";
    }

    @Override
    protected String time(String text, ColumnShape column) {
        return "CAST('" + cut(text) + "' AS time(7))";
    }

    /** Of the column's own type: an old {@code datetime} equals none of another type but by rounding. */
    @Override
    protected String timestamp(String text, ColumnShape column) {
        String type = SqlServerTypes.base(column.declaredType());
        String own = type.equals("datetime") || type.equals("smalldatetime") ? type : "datetime2(7)";
        return "CONVERT(" + own + ", '" + cut(text).replace(' ', 'T') + "', 126)";
    }

    @Override
    protected String instant(String text) {
        return "CAST('" + cut(text) + " +00:00' AS datetimeoffset(7))";
    }

    /** Of nine digits of a second, those that the server knows. */
    private static String cut(String text) {
        int point = text.indexOf('.');
        return point < 0 || text.length() <= point + 1 + DIGITS ? text : text.substring(0, point + 1 + DIGITS);
    }

    @Override
    protected String uuid(UUID value) {
        return "CONVERT(uniqueidentifier, '" + value + "')";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return "CAST(" + text(value.text()) + " AS " + SqlServerTypes.base(column.declaredType()) + ")";
    }
}
