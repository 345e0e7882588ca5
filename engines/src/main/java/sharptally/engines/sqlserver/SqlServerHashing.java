package sharptally.engines.sqlserver;

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

/**
 * Hashes by {@code HASHBYTES} in the common form, of values whose text is short and of plain letters: text in UTF-8 is known to
 * new versions alone, and old ones hash no more than 8,000 bytes. Rows with other columns are read.
 */
final class SqlServerHashing implements Hashing {
    @Override
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> field(c).isPresent());
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> field(c).map(f -> c.column().nullable() ? "COALESCE(" + f + ", '~')" : f)
                        .orElseThrow())
                .collect(Collectors.joining(" + '|' + "));
        return "CONVERT(bigint, SUBSTRING(HASHBYTES('MD5', " + record + "), 1, 8))";
    }

    private static Optional<String> field(Hashed hashed) {
        ColumnShape column = hashed.column();
        CanonicalType type = column.type().orElseThrow();
        String name = SqlServerDialect.quoted(column.name());
        String text = SqlServerReading.asText(column);
        boolean asTime = hashed.comparedAs() == Kind.TIMESTAMP || hashed.comparedAs() == Kind.INSTANT;
        return switch (type.kind()) {
            case BOOLEAN, INTEGER -> Optional.of("CONVERT(varchar(20), " + name + ")");
            case DECIMAL -> Optional.of(decimal(column, name));
            case DATE -> Optional.of(asTime ? text + " + ' 00:00:00'" : text);
            case TIME -> Optional.of(time(text, type.digits(), hashed.digits(), 8));
            case TIMESTAMP, INSTANT -> Optional.of(time(text, type.digits(), hashed.digits(), 19));
            case UUID -> Optional.of("LOWER(" + text + ")");
            default -> Optional.empty();
        };
    }

    private static String decimal(ColumnShape column, String name) {
        String declared = column.declaredType();
        // Money as text would be cut to two places.
        String exact = declared.endsWith("money") ? "CONVERT(decimal(19, 4), " + name + ")" : name;
        String text = "CONVERT(varchar(45), " + exact + ")";
        return declared.endsWith(",0)") ? text : trimmed(text);
    }

    private static String time(String text, int digits, int compared, int whole) {
        if (digits == 0) {
            return text;
        } else if (compared == 0) {
            return "LEFT(" + text + ", " + whole + ")";
        }
        String cut = compared < digits ? "LEFT(" + text + ", " + (whole + 1 + compared) + ")" : text;
        // The blank between a date and its time is none of those.
        return "REPLACE(" + trimmed("REPLACE(" + cut + ", ' ', 'T')") + ", 'T', ' ')";
    }

    /** Without zeros, and then a point, at the end: as RTRIM takes blanks alone, they are made blanks for a while. */
    private static String trimmed(String text) {
        return "REPLACE(RTRIM(REPLACE(REPLACE(RTRIM(REPLACE(" + text + ", '0', ' ')), ' ', '0'), '.', ' ')), ' ', '.')";
    }

    /** A hash is never NULL here; a sum of whole numbers would overflow. */
    @Override
    public String sum(String hash) {
        return "SUM(CAST(" + hash + " AS decimal(38, 0)))";
    }

    @Override
    public String slice(String number, long step) {
        return "CAST(" + number + " AS bigint) / " + step;
    }
}
