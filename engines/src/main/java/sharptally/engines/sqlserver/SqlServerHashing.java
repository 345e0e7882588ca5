package sharptally.engines.sqlserver;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.sums.CommonForm;
import sharptally.engines.jdbc.sums.Hashing;

/**
 * Hashes by {@code HASHBYTES} in the common form.
 *
 * @param utf8 whether text can be had in UTF-8; where it can't, only values are hashed whose text is of plain letters, and rows with
 *     other columns are read
 */
record SqlServerHashing(boolean utf8) implements Hashing {
    /** For a version that is not known. */
    static final SqlServerHashing OF_OLD = new SqlServerHashing(false);

    /** From 2019 on; then no input is too long, too. In the cloud, numbers of versions mean nothing. */
    private static final String KNOWS_UTF8 = "SELECT CASE WHEN CONVERT(int, SERVERPROPERTY('EngineEdition')) IN (5, 8)"
            + " OR CONVERT(int, PARSENAME(CONVERT(varchar(128), SERVERPROPERTY('ProductVersion')), 4)) >= 15"
            + " THEN 1 ELSE 0 END";

    private static final String UTF8 = SqlServerDialect.BINARY + "_UTF8";

    @Override
    public Hashing fitting(Connection connection) throws SQLException {
        return new SqlServerHashing(
                Rows.read(connection, KNOWS_UTF8, row -> row.getInt(1)).contains(1));
    }

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
        // What is put together is cut to 8,000 bytes unless its first part may be long.
        boolean text = columns.stream().anyMatch(c -> kind(c) == Kind.TEXT || kind(c) == Kind.BYTES);
        record = text ? "CONVERT(varchar(max), '') + " + record : record;
        return "CONVERT(bigint, SUBSTRING(HASHBYTES('MD5', " + record + "), 1, 8))";
    }

    private static Kind kind(Hashed hashed) {
        return hashed.column().type().orElseThrow().kind();
    }

    private Optional<String> field(Hashed hashed) {
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
            case TEXT -> utf8 ? Optional.of(counted(type.padded() ? "RTRIM(" + text + ")" : text)) : Optional.empty();
            case BYTES ->
                utf8
                        ? Optional.of("LOWER(CONVERT(varchar(max), CONVERT(varbinary(max), " + name + "), 2))")
                        : Optional.empty();
            default -> Optional.empty();
        };
    }

    /** Halves of letters have no UTF-8: a text with such a one has a hash that none other has, so that it is read. */
    private static String counted(String text) {
        String bytes = "CONVERT(varchar(max), " + text + " COLLATE " + UTF8 + ")";
        return "CASE WHEN CONVERT(nvarchar(max), " + bytes + ") = " + text + " COLLATE " + SqlServerDialect.BINARY
                + " THEN CONVERT(varchar(20), DATALENGTH(" + bytes + ")) + ':' + " + bytes
                + " WHEN " + text + " IS NOT NULL THEN '!' + CONVERT(varchar(max), CONVERT(varbinary(max), " + text
                + "), 2) END";
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
