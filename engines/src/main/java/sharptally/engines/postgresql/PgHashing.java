package sharptally.engines.postgresql;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
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
 * Hashes by {@code md5} in the common form, and by the typed 64-bit hash functions in PostgreSQL's own.
 *
 * <p>Its own form is a chain: the hash of each cell, mixed with a constant of its column, is the seed of the next one's,
 * and what comes out at the end is hashed once more, so that no two changes can cancel in a sum. A cell that is NULL mixes
 * in another constant.
 *
 * <p>What the functions leave out is added, so that cells of one column that differ never give one seed (sources:
 * {@code hashfunc.c}, {@code numeric.c}, {@code common/hashfn.c} of PostgreSQL 13 to 18):
 * <ol>
 *   <li>{@code hash_numeric_extended} knows neither sign nor scale, gives NaN and the infinities back as the seed, and zero
 *       as the seed less one: sign, zero and NaN mix in constants of their own. The exclusive or with the weight is of 16 bits;
 *       so these constants differ in higher ones.
 *   <li>{@code hashfloat8extended} gives zero back as the seed, for which no other value stands.
 *   <li>{@code hashint8extended} folds 64 bits to 32: the number itself is mixed into the seed as well.
 *   <li>Those of times do the same with microseconds, so that even within one date two times of whole milliseconds have
 *       one hash (2014-08-19 01:17:47.12 and 20:23:06.598): the 64 bits that the server sends are hashed as text instead.
 *   <li>{@code hashtextextended} hashes bytes in the server's encoding, which both sides share ({@link #ownForm}).
 * </ol>
 *
 * @param encoding the server's character set, in PostgreSQL's words; empty where no server is known
 */
record PgHashing(String encoding) implements Hashing {
    private static final String UTF8 = "UTF8";

    /** Values whose hashes tell whether two servers hash alike: versions, byte order, encodings. */
    private static final String OWN_FORM = "SELECT 'postgresql ' || (hashint8extended(4711, 1)"
            + " # hashint4extended(-4711, 2) # hash_numeric_extended(47.110, 3) # hashfloat8extended(0.1, 4)"
            + " # hashtextextended('Gezeiten' || chr(126) COLLATE \"C\", 5)"
            + " # hashtextextended(encode(timestamp_send('2026-11-23 12:00:00.5'), 'hex') COLLATE \"C\", 6)"
            + " # uuid_hash_extended('00000000-0000-4000-8000-00000000abcd', 7)"
            + " # hashtextextended(encode(time_send('12:00'), 'hex') COLLATE \"C\", 8) # hash_numeric_extended(0, 9) # hashfloat8extended('NaN', 10))::text"
            + " || ' ' || pg_encoding_to_char(encoding) FROM pg_database WHERE datname = current_database()";

    private static final String ENCODING =
            "SELECT pg_encoding_to_char(encoding) FROM pg_database WHERE datname = current_database()";

    private static final Set<String> LISTED = Set.of(
            "smallint",
            "integer",
            "bigint",
            "numeric",
            "date",
            "timestamp without time zone",
            "timestamp with time zone",
            "uuid",
            "bytea",
            "text",
            "character varying");

    /** What a cell is, as far as its hash does not tell. */
    private enum Mark {
        PLAIN,
        NULL,
        BELOW_ZERO,
        NOT_A_NUMBER,
        ZERO
    }

    @Override
    public Hashing fitting(Connection connection) throws SQLException {
        return new PgHashing(
                Rows.read(connection, ENCODING, row -> row.getString(1)).get(0));
    }

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
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        boolean bytesOfNoSet = encoding.equals("SQL_ASCII");
        return CommonForm.problem(columns, c -> !bytesOfNoSet || !isText(type(c).kind()));
    }

    private static boolean isText(Kind kind) {
        return kind == Kind.TEXT || kind == Kind.JSON || kind == Kind.OTHER;
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> c.column().nullable() ? "coalesce(" + field(c) + ", '~')" : field(c))
                .collect(Collectors.joining(" || '|' || "));
        return "('x' || left(md5(" + utf8(record) + "), 16))::bit(64)::bigint";
    }

    /** What is in another character set is hashed as UTF-8 all the same. */
    private String utf8(String text) {
        return encoding.equals(UTF8) ? text : "convert_to(" + text + ", 'UTF8')";
    }

    private String field(Hashed hashed) {
        String name = name(hashed.column());
        boolean asTime = hashed.comparedAs() == Kind.TIMESTAMP || hashed.comparedAs() == Kind.INSTANT;
        return switch (type(hashed).kind()) {
            case BOOLEAN -> name + "::int::text";
            case INTEGER -> name + "::text";
            case DECIMAL -> "trim_scale(" + name + ")::text";
            case FLOAT -> "CASE WHEN " + name + " = 0 THEN '0' ELSE " + name + "::float8::text END";
            case DOUBLE -> "CASE WHEN " + name + " = 0 THEN '0' ELSE " + name + "::text END";
            case TEXT, JSON, BITS, OTHER -> counted(PgReading.asText(hashed.column()));
            case BYTES -> "encode(" + name + ", 'hex')";
            case DATE -> asTime ? name + "::timestamp::text" : name + "::text";
            case TIME -> timeOfDay(name + "::text", hashed.digits());
            case TIMESTAMP -> cut(name, hashed.digits()) + "::text";
            case INSTANT -> cut("(" + name + " AT TIME ZONE 'UTC')", hashed.digits()) + "::text";
            case UUID -> name + "::text";
            case ANY -> throw new IllegalStateException("PostgreSQL has no column without a type");
        };
    }

    private String counted(String text) {
        return "octet_length(" + utf8(text) + ") || ':' || " + text;
    }

    /** Further digits of a second are cut off, before the common era too; infinity is left as it is. */
    private static String cut(String time, int digits) {
        return switch (digits) {
            case 0 -> "date_trunc('second', " + time + ")";
            case 3 -> "date_trunc('milliseconds', " + time + ")";
            case 1, 2, 4, 5 ->
                "(CASE WHEN isfinite(" + time + ") THEN date_trunc('second', " + time + ")"
                        + " + extract(microseconds from " + time + ")::int % 1000000 / "
                        + (int) Math.pow(10, 6 - digits) + " * interval '" + (int) Math.pow(10, 6 - digits)
                        + " microseconds' ELSE " + time + " END)";
            default -> time;
        };
    }

    /** By its text, as 24:00 is no time of any day. */
    private static String timeOfDay(String text, int digits) {
        return switch (digits) {
            case 0 -> "left(" + text + ", 8)";
            case 1, 2, 3, 4, 5 ->
                "regexp_replace(left(" + text + ", " + (9 + digits) + "), '\\.0*$|(\\.\\d*[1-9])0+$', '\\1')";
            default -> text;
        };
    }

    /** Both sides hold the column in the same way, so that its own functions tell what we would. */
    @Override
    public Optional<Obstacle> ownProblem(List<Hashed> columns) {
        return columns.stream()
                .filter(c -> type(c).kind() != c.comparedAs() || c.digits() < Math.min(6, type(c).digits()))
                .findFirst()
                .map(c -> new Obstacle.ComparedAsOther(
                        c.column().name(), c.column().declaredType()));
    }

    @Override
    public String own(List<Hashed> columns) {
        String hash = Integer.toString(columns.size()) + "::int8";
        for (int i = 0; i < columns.size(); i++) {
            ColumnShape column = columns.get(i).column();
            hash = cell(column, hash + " # " + marks(column, i));
        }
        return "hashint4extended(0, " + hash + ")";
    }

    /** The constant of a column, or where the cell is something that its hash does not tell, another one. */
    private static String marks(ColumnShape column, int place) {
        String name = name(column);
        String plain = constant(place, Mark.PLAIN);
        String ofNull = column.nullable() ? " WHEN " + name + " IS NULL THEN " + constant(place, Mark.NULL) : "";
        if (isNumeric(column)) {
            // Zero is the seed less one, and what is no number the seed: over several columns, the one could make the
            // other.
            String unlimited = column.declaredType().startsWith("numeric(")
                    ? ""
                    : " WHEN " + name + " = 'NaN' THEN " + constant(place, Mark.NOT_A_NUMBER);
            return "CASE" + unlimited + " WHEN " + name + " > 0 THEN " + plain + " WHEN " + name + " < 0 THEN "
                    + constant(place, Mark.BELOW_ZERO) + ofNull + " ELSE " + constant(place, Mark.ZERO) + " END";
        }
        return ofNull.isEmpty() ? plain : "CASE" + ofNull + " ELSE " + plain + " END";
    }

    private static boolean isNumeric(ColumnShape column) {
        return column.type().orElseThrow().kind() == Kind.DECIMAL;
    }

    /** Numbers without pattern, 63 bits: one for each column and mark (the finalizer of SplitMix64). */
    private static String constant(int column, Mark mark) {
        long number = (column * 8L + mark.ordinal() + 1) * 0x9E3779B97F4A7C15L;
        number = (number ^ number >>> 30) * 0xBF58476D1CE4E5B9L;
        number = (number ^ number >>> 27) * 0x94D049BB133111EBL;
        return Long.toString((number ^ number >>> 31) >>> 1);
    }

    /** The hash of a cell, with what comes before it in the seed. NULL is hashed as any value, its mark being told. */
    private static String cell(ColumnShape column, String seed) {
        String declared = column.declaredType();
        return switch (column.type().orElseThrow().kind()) {
            case BOOLEAN -> "hashint4extended(" + filled(column, "false") + "::int4, " + seed + ")";
            case INTEGER -> whole(declared, filled(column, "0"), seed);
            case DECIMAL -> "hash_numeric_extended(" + filled(column, "0") + ", " + seed + ")";
            // Those of 32 bits are hashed as what they are in 64.
            case FLOAT, DOUBLE -> "hashfloat8extended(" + filled(column, "0") + "::float8, " + seed + ")";
            case TIMESTAMP -> sent("timestamp", filled(column, "'2000-01-01'"), seed);
            case INSTANT -> sent("timestamptz", filled(column, "'2000-01-01Z'"), seed);
            case UUID ->
                "uuid_hash_extended(" + filled(column, "'00000000-0000-0000-0000-000000000000'") + ", " + seed + ")";
            case TIME -> sent("time", filled(column, "'00:00'"), seed);
            default -> text(column, seed);
        };
    }

    private static String filled(ColumnShape column, String instead) {
        return column.nullable() ? "coalesce(" + name(column) + ", " + instead + ")" : name(column);
    }

    private static String whole(String declared, String name, String seed) {
        return switch (declared) {
            case "smallint" -> "hashint2extended(" + name + "::int2, " + seed + ")";
            case "integer" -> "hashint4extended(" + name + ", " + seed + ")";
            case "bigint" -> "hashint8extended(" + name + ", " + seed + " # " + name + ")";
            default -> "hashint8extended(" + name + "::int8, " + seed + " # " + name + "::int8)";
        };
    }

    /** A time, by all bits of the number that it is held as. */
    private static String sent(String type, String name, String seed) {
        return "hashtextextended(encode(" + type + "_send(" + name + "), 'hex') COLLATE \"C\", " + seed + ")";
    }

    /** The text of a padded column has lost its padding. */
    private static String text(ColumnShape column, String seed) {
        String text = PgReading.asText(column);
        return "hashtextextended(" + (column.nullable() ? "coalesce(" + text + ", '')" : text) + " COLLATE \"C\", "
                + seed + ")";
    }

    @Override
    public String sum(String hash) {
        return "coalesce(SUM(" + hash + "), 0) + (COUNT(*) - COUNT(" + hash + ")) * 1e" + UNHASHED_DIGITS;
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

    /** Without a length or scale, to which a value of the other side would be cut. */
    @Override
    public Optional<String> listedAs(ColumnShape key) {
        String base = key.declaredType().replaceAll("\\(.*?\\)", "");
        return LISTED.contains(base) ? Optional.of(base) : Optional.empty();
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
