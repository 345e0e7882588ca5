package sharptally.engines.oracle;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.engines.jdbc.sums.CommonForm;
import sharptally.engines.jdbc.sums.Hashing;

/**
 * Hashes by {@code STANDARD_HASH} in the common form, of values whose text is short: what is put together ends at 4,000 bytes,
 * and text is in the database's own character set. Rows with other columns are read.
 */
final class OracleHashing implements Hashing {
    private static final Pattern NUMBER = Pattern.compile("NUMBER\\((\\d+|\\*),(\\d+)\\)");
    private static final int MAX_PRECISION = 38;

    @Override
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> field(c).isPresent());
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> field(c).map(f -> c.column().nullable() ? "NVL(" + f + ", '~')" : f)
                        .orElseThrow())
                .collect(Collectors.joining(" || '|' || "));
        return "TO_NUMBER(SUBSTR(RAWTOHEX(STANDARD_HASH(" + record + ", 'MD5')), 1, 16), 'XXXXXXXXXXXXXXXX')";
    }

    private static Optional<String> field(Hashed hashed) {
        ColumnShape column = hashed.column();
        CanonicalType type = column.type().orElseThrow();
        String name = OracleDialect.quoted(column.name());
        return switch (type.kind()) {
            case INTEGER -> Optional.of("TO_CHAR(" + name + ", 'TM9')");
            case DECIMAL -> decimal(column, name);
            case TIMESTAMP, INSTANT -> Optional.of(time(OracleReading.asText(column), type.digits(), hashed.digits()));
            case BYTES ->
                column.declaredType().startsWith("RAW")
                        ? Optional.of("LOWER(RAWTOHEX(" + name + "))")
                        : Optional.empty();
            default -> Optional.empty();
        };
    }

    /** Without zeros at the end, and with one before the point, as far as a scale is declared. */
    private static Optional<String> decimal(ColumnShape column, String name) {
        Matcher number = NUMBER.matcher(column.declaredType());
        if (!number.matches()) {
            return Optional.empty();
        }
        int scale = Integer.parseInt(number.group(2));
        int precision = number.group(1).equals("*") ? MAX_PRECISION : Integer.parseInt(number.group(1));
        String mask = "FM" + "9".repeat(Math.max(0, precision - scale - 1)) + "0"
                + (scale == 0 ? "" : "." + "9".repeat(scale));
        String text = "TO_CHAR(" + name + ", '" + mask + "')";
        return Optional.of(scale == 0 ? text : "RTRIM(" + text + ", '.')");
    }

    private static String time(String text, int digits, int compared) {
        if (digits == 0) {
            return text;
        }
        String cut = compared < digits ? "SUBSTR(" + text + ", 1, " + (compared == 0 ? 19 : 20 + compared) + ")" : text;
        return compared == 0 ? cut : "RTRIM(RTRIM(" + cut + ", '0'), '.')";
    }

    /** A hash is never NULL here. */
    @Override
    public String sum(String hash) {
        return "SUM(" + hash + ")";
    }

    @Override
    public String masked(String hash, long shares) {
        return "MOD(" + hash + ", " + shares + ")";
    }

    @Override
    public String slice(String number, long step) {
        return "TRUNC(" + number + " / " + step + ")";
    }
}
