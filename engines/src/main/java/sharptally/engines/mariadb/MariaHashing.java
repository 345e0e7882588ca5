package sharptally.engines.mariadb;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.sums.CommonForm;
import sharptally.engines.jdbc.sums.Hashing;

/** Hashes by {@code MD5} in the common form. It has no faster functions that are good enough: CRC32 has 32 bits. */
final class MariaHashing implements Hashing {
    private static CanonicalType type(Hashed column) {
        return column.column().type().orElseThrow();
    }

    @Override
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> field(c).isPresent());
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> field(c).map(f -> c.column().nullable() ? "IF(" + quoted(c) + " IS NULL, '~', " + f + ")" : f)
                        .orElseThrow())
                // Not CONCAT_WS, which passes over what is NULL: a text may be, for being longer than a packet.
                .collect(Collectors.joining(", '|', ", "CONCAT(", ")"));
        return "CAST(CONV(LEFT(MD5(" + record + "), 16), 16, 10) AS UNSIGNED)";
    }

    private static String quoted(Hashed column) {
        return MariaDialect.quoted(column.column().name());
    }

    private static Optional<String> field(Hashed hashed) {
        ColumnShape column = hashed.column();
        String name = MariaDialect.quoted(column.name());
        String declared = column.declaredType();
        boolean asTime = hashed.comparedAs() == Kind.TIMESTAMP || hashed.comparedAs() == Kind.INSTANT;
        String text = "CAST(" + name + " AS CHAR)";
        return switch (type(hashed).kind()) {
            case INTEGER ->
                Optional.of(declared.contains("zerofill") || declared.startsWith("year") ? name + " + 0" : name);
            case DECIMAL -> Optional.of(declared.contains(",0)") ? name + " + 0" : trimmed(name + " + 0"));
            // Other engines write it with other digits: of 32 bits here, and of a set number of places where declared
            // so.
            case DOUBLE ->
                declared.contains("(") ? Optional.empty() : Optional.of("IF(" + name + " = 0, '0', " + text + ")");
            case FLOAT -> Optional.of("IF(" + name + " = 0, '0', CAST(" + name + " + 0e0 AS CHAR))");
            case TEXT -> Optional.of(counted(column, type(hashed).padded()));
            case JSON -> Optional.of(counted(column, false));
            case BYTES -> Optional.of("LOWER(HEX(" + name + "))");
            case DATE -> Optional.of(asTime ? "CONCAT(" + name + ", ' 00:00:00')" : text);
            case TIME -> Optional.of(timeOfDay(text, type(hashed).digits(), hashed.digits()));
            case TIMESTAMP, INSTANT -> Optional.of(time(text, type(hashed).digits(), hashed.digits()));
            case UUID -> Optional.of(text);
            case BITS, OTHER, BOOLEAN, ANY -> Optional.empty();
        };
    }

    private static String time(String text, int digits, int compared) {
        if (digits == 0) {
            return text;
        }
        String cut = compared < digits ? "LEFT(" + text + ", " + (compared == 0 ? 19 : 20 + compared) + ")" : text;
        return compared == 0 ? cut : trimmed(cut);
    }

    /** Of any number of hours. */
    private static String timeOfDay(String text, int digits, int compared) {
        if (digits == 0) {
            return text;
        }
        return compared == 0
                ? "SUBSTRING_INDEX(" + text + ", '.', 1)"
                : trimmed(
                        compared < digits ? "LEFT(" + text + ", LOCATE('.', " + text + ") + " + compared + ")" : text);
    }

    /** Without zeros at the end of the places behind the point, of which there are some. */
    private static String trimmed(String text) {
        return "TRIM(TRAILING '.' FROM TRIM(TRAILING '0' FROM " + text + "))";
    }

    private static String counted(ColumnShape column, boolean padded) {
        String bytes = MariaDialect.asBytes(column);
        String utf8 = bytes.substring("CAST(".length(), bytes.length() - " AS BINARY)".length());
        String text = padded ? "TRIM(TRAILING ' ' FROM " + utf8 + ")" : utf8;
        return "CONCAT(LENGTH(" + text + "), ':', " + text + ")";
    }

    @Override
    public String sum(String hash) {
        return "SUM(IFNULL(" + hash + ", 1" + "0".repeat(UNHASHED_DIGITS) + "))";
    }

    @Override
    public String slice(String number, long step) {
        return number + " DIV " + step;
    }
}
