package sharptally.engines.trino;

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

/** Hashes by {@code md5} in the common form; of floating values it writes other digits, and they are read. */
final class TrinoHashing implements Hashing {
    @Override
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> field(c).isPresent());
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> field(c).map(f -> c.column().nullable() ? "COALESCE(" + f + ", '~')" : f)
                        .orElseThrow())
                .collect(Collectors.joining(" || '|' || "));
        return "from_big_endian_64(substr(md5(to_utf8(" + record + ")), 1, 8))";
    }

    private static Optional<String> field(Hashed hashed) {
        ColumnShape column = hashed.column();
        CanonicalType type = column.type().orElseThrow();
        String name = TrinoDialect.quoted(column.name());
        String text = TrinoReading.asText(column);
        boolean asTime = hashed.comparedAs() == Kind.TIMESTAMP || hashed.comparedAs() == Kind.INSTANT;
        return switch (type.kind()) {
            case BOOLEAN -> Optional.of("CAST(CAST(" + name + " AS integer) AS varchar)");
            case INTEGER, UUID -> Optional.of(text);
            // One of no places has no point.
            case DECIMAL -> Optional.of("IF(strpos(" + text + ", '.') > 0, " + trimmed(text) + ", " + text + ")");
            case TEXT -> Optional.of(counted(type.padded() ? "regexp_replace(" + text + ", ' +\\z')" : text));
            case JSON -> Optional.of(counted(text));
            case BYTES -> Optional.of("lower(to_hex(" + name + "))");
            case DATE -> Optional.of(asTime ? text + " || ' 00:00:00'" : text);
            case TIME, TIMESTAMP, INSTANT ->
                TrinoTypes.digits(column.declaredType()) > CanonicalType.ANY_DIGITS
                        ? Optional.empty()
                        : Optional.of(time(text, type.digits(), hashed.digits()));
            case FLOAT, DOUBLE, BITS, OTHER, ANY -> Optional.empty();
        };
    }

    private static String time(String text, int digits, int compared) {
        if (digits == 0) {
            return text;
        } else if (compared == 0) {
            return "split_part(" + text + ", '.', 1)";
        }
        return trimmed(
                compared < digits ? "regexp_replace(" + text + ", '(\\.\\d{" + compared + "})\\d+', '$1')" : text);
    }

    /** Without zeros at the end of the places behind the point, of which there are some. */
    private static String trimmed(String text) {
        return "regexp_replace(" + text + ", '\\.?0+\\z')";
    }

    private static String counted(String text) {
        return "CAST(length(to_utf8(" + text + ")) AS varchar) || ':' || " + text;
    }

    @Override
    public String masked(String hash, long shares) {
        return "bitwise_and(" + hash + ", " + (shares - 1) + ")";
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
