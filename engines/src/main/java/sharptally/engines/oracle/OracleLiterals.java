package sharptally.engines.oracle;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals that no setting of a session changes, each on one line. */
final class OracleLiterals extends Literals {
    /** So many letters, or numbers of letters, fit a line of the client, and never take more bytes than a literal may. */
    private static final int PIECE = 900;

    private static final int NUMBERED_PIECE = 380;

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

    @Override
    protected String text(String text, ColumnShape column) {
        String large = OracleTypes.isLarge(column.declaredType()) ? "TO_" + column.declaredType() + "(" : "";
        List<String> pieces = pieces(text);
        return large.isEmpty() || pieces.size() == 1
                ? String.join(" || ", pieces)
                : pieces.stream().map(piece -> large + piece + ")").collect(Collectors.joining(" || "));
    }

    @Override
    protected String text(String text) {
        return String.join(" || ", pieces(text));
    }

    /** Plain letters in quotes; others by their numbers, whatever the character set of whoever runs the script. */
    private static List<String> pieces(String text) {
        if (text.isEmpty()) {
            return List.of("NULL");
        }
        List<String> pieces = new ArrayList<>();
        int most = isPlain(text) ? PIECE : NUMBERED_PIECE;
        for (int from = 0; from < text.length(); ) {
            int to = Math.min(text.length(), from + most);
            if (to < text.length() && Character.isHighSurrogate(text.charAt(to - 1))) {
                to--;
            }
            pieces.add(piece(text.substring(from, to)));
            from = to;
        }
        return pieces;
    }

    private static boolean isPlain(String text) {
        return text.chars().allMatch(c -> c >= ' ' && c < 0x7f);
    }

    private static String piece(String text) {
        if (isPlain(text)) {
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
