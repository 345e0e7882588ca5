package sharptally.engines.oracle;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals that no setting of a session changes, each on one line. */
final class OracleLiterals extends Literals {
    /** A text in quotes holds 4,000 bytes at most; so many letters never take more. */
    private static final int PIECE = 900;

    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        return value.toPlainString();
    }

    @Override
    protected String real(Value.Real value) {
        float number = value.value();
        return Float.isNaN(number)
                ? "BINARY_FLOAT_NAN"
                : Float.isInfinite(number) ? (number < 0 ? "-" : "") + "BINARY_FLOAT_INFINITY" : number + "f";
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        double number = value.value();
        return Double.isNaN(number)
                ? "BINARY_DOUBLE_NAN"
                : Double.isInfinite(number) ? (number < 0 ? "-" : "") + "BINARY_DOUBLE_INFINITY" : number + "d";
    }

    /** Plain letters in quotes; others by their numbers, whatever the character set of whoever runs the script. */
    @Override
    protected String text(String text) {
        if (text.isEmpty()) {
            return "NULL";
        }
        List<String> pieces = new ArrayList<>();
        for (int from = 0; from < text.length(); ) {
            int to = Math.min(text.length(), from + PIECE);
            if (to < text.length() && Character.isHighSurrogate(text.charAt(to - 1))) {
                to--;
            }
            pieces.add(piece(text.substring(from, to)));
            from = to;
        }
        if (pieces.size() == 1) {
            return pieces.get(0);
        }
        boolean plain = pieces.stream().allMatch(p -> p.startsWith("'"));
        return (plain ? "TO_CLOB(" : "TO_NCLOB(") + pieces.get(0) + ") || "
                + String.join(" || ", pieces.subList(1, pieces.size()));
    }

    private static String piece(String text) {
        if (text.chars().allMatch(c -> c >= ' ' && c < 0x7f)) {
            return "'" + text.replace("'", "''") + "'";
        }
        StringBuilder out = new StringBuilder("UNISTR('");
        for (char c : text.toCharArray()) {
            if (c == '\'') {
                out.append("''");
            } else if (c == '\\' || c < ' ' || c >= 0x7f) {
                out.append(String.format(Locale.ROOT, "\\%04x", (int) c));
            } else {
                out.append(c);
            }
        }
        return out.append("')").toString();
    }

    @Override
    protected String bytes(byte[] value) {
        return value.length == 0
                ? "EMPTY_BLOB()"
                : "HEXTORAW('" + HexFormat.of().formatHex(value) + "')";
    }

    /** A date has a time here. */
    @Override
    protected String date(String text) {
        return "TO_DATE('" + text + "', 'YYYY-MM-DD')";
    }

    @Override
    protected String timestamp(String text, ColumnShape column) {
        return column.declaredType().equals("DATE")
                ? "TO_DATE('" + text.replaceAll("\\..*", "") + "', 'YYYY-MM-DD HH24:MI:SS')"
                : "TIMESTAMP '" + text + "'";
    }

    @Override
    protected String instant(String text) {
        return "TIMESTAMP '" + text + " +00:00'";
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        String base = OracleTypes.base(column.declaredType());
        return switch (base) {
            case "XMLTYPE" -> "XMLTYPE(" + text(value.text()) + ")";
            case "JSON" -> "JSON(" + text(value.text()) + ")";
            case "INTERVAL DAY" -> "TO_DSINTERVAL(" + text(value.text()) + ")";
            case "INTERVAL YEAR" -> "TO_YMINTERVAL(" + text(value.text()) + ")";
            default -> text(value.text());
        };
    }
}
