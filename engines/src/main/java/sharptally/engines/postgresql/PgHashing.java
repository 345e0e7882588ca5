package sharptally.engines.postgresql;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.place.SumsRequest.Hashed;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.CommonForm;
import sharptally.engines.jdbc.Hashing;

/**
 * Hashes by {@code md5} in the common form, and by the typed 64-bit hash functions in PostgreSQL's own.
 *
 * <p>Its own form: the hash of each cell is the seed of the next one's, so that values that changed places, within a row or
 * between rows, change the sum. The first seed tells which cells are NULL. PostgreSQL's hash of a 64-bit number folds it to
 * 32 bits first ({@code hashint8extended} in hashfunc.c); so the number itself, or for times their value as a double, is
 * mixed in.
 */
final class PgHashing implements Hashing {
    private static final int FLAGS_PER_NUMBER = 30;

    /** Values whose hashes tell whether two servers hash alike: versions, byte order, encodings. */
    private static final String OWN_FORM = "SELECT 'postgresql ' || (hashint8extended(4711, 1)"
            + " # hashint4extended(-4711, 2) # hash_numeric_extended(47.110, 3) # hashfloat8extended(0.1, 4)"
            + " # hashtextextended('Gezeiten' || chr(246) COLLATE \"C\", 5)"
            + " # timestamp_hash_extended('2026-11-23 12:00:00.5', 6)"
            + " # uuid_hash_extended('00000000-0000-4000-8000-00000000abcd', 7)"
            + " # hashbpcharextended('a  ' COLLATE \"C\", 8) # time_hash_extended('12:00', 9)"
            + " # hashcharextended('a', 10) # hashfloat4extended(0.1, 11) # hashint2extended(7::int2, 12))::text"
            + " || ' ' || pg_encoding_to_char(encoding) FROM pg_database WHERE datname = current_database()";

    @Override
    public Optional<String> ownForm() {
        return Optional.of(OWN_FORM);
    }

    private static CanonicalType type(Hashed column) {
        return column.column().type().orElseThrow();
    }

    private static String name(ColumnShape column) {
        return PgDialect.quoted(column.name());
    }

    @Override
    public Optional<String> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> true);
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> c.column().nullable() ? "coalesce(" + field(c) + ", '~')" : field(c))
                .collect(Collectors.joining(" || '|' || "));
        return "('x' || left(md5(" + record + "), 16))::bit(64)::bigint";
    }

    private static String field(Hashed hashed) {
        String name = name(hashed.column());
        boolean asTime = hashed.comparedAs() == Kind.TIMESTAMP || hashed.comparedAs() == Kind.INSTANT;
        return switch (type(hashed).kind()) {
            case BOOLEAN -> name + "::int::text";
            case INTEGER -> name + "::text";
            case DECIMAL -> "trim_scale(" + name + ")::text";
            case FLOAT -> "CASE WHEN " + name + " = 0 THEN '0' ELSE " + name + "::float8::text END";
            case DOUBLE -> "CASE WHEN " + name + " = 0 THEN '0' ELSE " + name + "::text END";
            case TEXT, JSON, BITS, OTHER -> counted(name + "::text");
            case BYTES -> "encode(" + name + ", 'hex')";
            case DATE -> asTime ? name + "::timestamp::text" : name + "::text";
            case TIME -> name + "::text";
            case TIMESTAMP -> cut(name, hashed.digits()) + "::text";
            case INSTANT -> cut("(" + name + " AT TIME ZONE 'UTC')", hashed.digits()) + "::text";
            case UUID -> name + "::text";
            case ANY -> throw new IllegalStateException("PostgreSQL has no column without a type");
        };
    }

    private static String counted(String text) {
        return "octet_length(" + text + ") || ':' || " + text;
    }

    private static String cut(String time, int digits) {
        return digits >= 6 ? time : "date_trunc('" + (digits >= 3 ? "milliseconds" : "second") + "', " + time + ")";
    }

    /** Both sides hold the column in the same way, so that its own functions tell what we would. */
    @Override
    public Optional<String> ownProblem(List<Hashed> columns) {
        return columns.stream()
                .filter(c -> type(c).kind() != c.comparedAs() || c.digits() < Math.min(6, type(c).digits()))
                .findFirst()
                .map(c -> c.column().name() + " (" + c.column().declaredType() + ") is compared as another type");
    }

    @Override
    public String own(List<Hashed> columns) {
        String hash = Integer.toString(columns.size());
        for (int from = 0; from < columns.size(); from += FLAGS_PER_NUMBER) {
            hash = withFlags(hash, columns.subList(from, Math.min(columns.size(), from + FLAGS_PER_NUMBER)));
        }
        for (Hashed column : columns) {
            hash = cell(column.column(), hash);
        }
        return hash;
    }

    /** Mixed with a number that has a bit per column, set where the column is NULL. */
    private static String withFlags(String hash, List<Hashed> columns) {
        String flags = IntStream.range(0, columns.size())
                .filter(i -> columns.get(i).column().nullable())
                .mapToObj(i -> "(" + name(columns.get(i).column()) + " IS NULL)::int * " + (1L << i))
                .collect(Collectors.joining(" + "));
        String number = flags.isEmpty() ? "0" : "(" + flags + ")::int";
        return "hashint4extended(" + number + ", " + hash + ")";
    }

    /** The hash of a cell, with the hash of all before it as a seed. NULL is hashed as any value, being told before. */
    private static String cell(ColumnShape column, String seed) {
        Kind kind = column.type().orElseThrow().kind();
        String declared = column.declaredType();
        return switch (kind) {
            case BOOLEAN -> "hashcharextended(" + filled(column, "false") + "::int::\"char\", " + seed + ")";
            case INTEGER -> whole(declared, filled(column, "0"), seed);
            case DECIMAL ->
                declared.equals("money")
                        ? text(column, seed)
                        : "hash_numeric_extended(" + filled(column, "0") + ", " + seed + ")";
            case FLOAT -> "hashfloat4extended(" + filled(column, "0") + ", " + seed + ")";
            case DOUBLE -> "hashfloat8extended(" + filled(column, "0") + ", " + seed + ")";
            case TIMESTAMP -> folded("timestamp", filled(column, "'2000-01-01'"), seed);
            case INSTANT -> folded("timestamp", "(" + filled(column, "'2000-01-01Z'") + " AT TIME ZONE 'UTC')", seed);
            case UUID ->
                "uuid_hash_extended(" + filled(column, "'00000000-0000-0000-0000-000000000000'") + ", " + seed + ")";
            case TIME ->
                declared.startsWith("time without") || declared.equals("time")
                        ? folded("time", filled(column, "'00:00'"), seed)
                        : text(column, seed);
            default -> text(column, seed);
        };
    }

    private static String filled(ColumnShape column, String instead) {
        return column.nullable() ? "coalesce(" + name(column) + ", " + instead + ")" : name(column);
    }

    private static String whole(String declared, String name, String seed) {
        return switch (declared) {
            case "smallint" -> "hashint2extended(" + name + ", " + seed + ")";
            case "integer" -> "hashint4extended(" + name + ", " + seed + ")";
            default -> "(hashint8extended(" + name + "::int8, " + seed + ") # " + name + "::int8)";
        };
    }

    /** A time, hashed as the number that it is held as, and as seconds. */
    private static String folded(String type, String name, String seed) {
        return type + "_hash_extended(" + name + ", hashfloat8extended(date_part('epoch', " + name + "), " + seed
                + "))";
    }

    /** The text of a padded column has lost its padding. */
    private static String text(ColumnShape column, String seed) {
        String text = name(column) + "::text";
        return "hashtextextended(" + (column.nullable() ? "coalesce(" + text + ", '')" : text) + " COLLATE \"C\", "
                + seed + ")";
    }

    @Override
    public String sum(String hash) {
        return "SUM(" + hash + ")";
    }

    /** Else it takes every row for a group of its own, and sorts them. */
    @Override
    public String fenced(String query) {
        return query + " OFFSET 0";
    }

    @Override
    public String slice(String number, long step) {
        return number + " / " + step;
    }

    @Override
    public Optional<String> slices(ColumnShape key, String from, String end, long step, String name) {
        boolean plain = Set.of("smallint", "integer", "bigint").contains(key.declaredType());
        return plain
                ? Optional.of("LATERAL generate_series(" + from + " / " + step + " * " + step + ", " + end + " - 1, "
                        + step + ") " + name + "(tally_from)")
                : Optional.empty();
    }
}
