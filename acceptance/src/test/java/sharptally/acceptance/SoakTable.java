package sharptally.acceptance;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiPredicate;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * One random table of a soak: what both sides hold, and by an oracle of its own (texts of values, a map by key) what a
 * comparison must find. Knows nothing of the program's casts, orders and merges.
 */
final class SoakTable {
    /** What a column holds: its declaration per engine in the order of {@link Database.Kind}, and how values are made. */
    enum Type {
        INT(
                "INTEGER | BIGINT | BIGINT | bigint | bigint",
                r -> edge(r, r.nextLong() >> r.nextInt(64), Long.MIN_VALUE, 0L, -1L)),
        SMALL("SMALLINT | SMALLINT | SMALLINT | smallint | smallint", r ->
                (long) (short) (r.nextInt() >> r.nextInt(31))),
        DECIMAL(
                "DECIMAL(14,4) | NUMERIC(14, 4) | DECIMAL(14, 4) | numeric(14, 4) | decimal(14, 4)",
                r -> BigDecimal.valueOf(r.nextLong() % 10_000_000_000L, r.nextInt(5))),
        WIDE(
                "TEXT | NUMERIC(30, 10) | DECIMAL(30, 10) | numeric(30, 10) | decimal(30, 10)",
                r -> new BigDecimal(new java.math.BigInteger(90, r), 10)
                        .multiply(BigDecimal.valueOf(r.nextBoolean() ? 1 : -1))),
        DOUBLE(
                "DOUBLE | DOUBLE PRECISION | DOUBLE | double precision | double",
                r -> edge(
                        r, (r.nextDouble() - 0.5) * Math.pow(10, r.nextInt(40) - 20), 0.0, -0.0, 4.9e-324, 0.1, -1.0)),
        REAL("FLOAT | REAL | FLOAT | real | float", r ->
                (double) ((r.nextFloat() - 0.5f) * (float) Math.pow(10, r.nextInt(9)))),
        TEXT("TEXT | VARCHAR(200) | VARCHAR | varchar(200) | varchar(200)", SoakTable::text),
        LONG_TEXT("CLOB | CLOB | VARCHAR | text | longtext", r -> text(r) + "x".repeat(r.nextInt(40) == 0 ? 3_000 : 0)),
        PADDED(
                "CHAR(8) | CHAR(8) | VARCHAR | char(8) | char(8)",
                r -> edge(r, Integer.toHexString(r.nextInt()), "", "a", "é", "A")),
        BYTES("BLOB | VARBINARY(100) | BLOB | bytea | varbinary(100)", r -> {
            byte[] bytes = new byte[r.nextInt(20)];
            r.nextBytes(bytes);
            return bytes;
        }),
        DATE("DATE | DATE | DATE | date | date", r -> LocalDate.of(1000, 1, 1).plusDays(r.nextInt(3_000_000))),
        TIME(
                "TIME | TIME(6) | TIME | time | time(6)",
                r -> LocalTime.ofSecondOfDay(r.nextInt(86_400))
                        .plusNanos(r.nextBoolean() ? 0 : r.nextInt(1_000_000) * 1_000L)),
        TIMESTAMP("TIMESTAMP | TIMESTAMP(6) | TIMESTAMP | timestamp | datetime(6)", SoakTable::time),
        INSTANT(
                "TIMESTAMPTZ | TIMESTAMP(6) WITH TIME ZONE | TIMESTAMPTZ | timestamptz | timestamp(6)",
                r -> LocalDateTime.of(1971, 1, 1, 0, 0)
                        .plusSeconds(r.nextInt(2_000_000_000))
                        .plusNanos(r.nextInt(1_000) * 1_000L)),
        FLAG("BOOLEAN | BOOLEAN | BOOLEAN | boolean | tinyint(1)", Random::nextBoolean),
        /** Of version 4: MariaDB refuses some others. */
        UUID(
                "UUID | UUID | UUID | uuid | uuid",
                r -> new java.util.UUID(r.nextLong() & ~0xF000L | 0x4000L, r.nextLong() >>> 2 | Long.MIN_VALUE));

        final List<String> declared;
        final Function<Random, Object> make;

        Type(String declared, Function<Random, Object> make) {
            this.declared = List.of(declared.split(" \\| "));
            this.make = make;
        }
    }

    private static final List<Type> KEY_TYPES = List.of(
            Type.INT,
            Type.INT,
            Type.INT,
            Type.SMALL,
            Type.TEXT,
            Type.DATE,
            Type.DECIMAL,
            Type.TIMESTAMP,
            Type.BYTES,
            Type.UUID,
            Type.INSTANT);
    private static final String[] BITS = {
        "a", "B", "b", "'", "''", "\"", "\\", "\n", "\r\n", "\t", " ", "  ", "é", "e\u0301", "ß", "Ω", "名", "\uFF5E",
        "🌊", "𝄞", ";", "--", "%", "NULL", "0", "\\u0041", "{}", "\u007f", "|", "~", "1:"
    };
    private static final String[] NAMES = {
        "id",
        "a b",
        "select",
        "q\"q",
        "it's",
        "größe",
        "x.y",
        "Order",
        "名前",
        "p%",
        "a|b",
        "col*",
        "tally_hash",
        "key",
        "n"
    };

    final String schema;
    final String name;
    final List<String> columns = new ArrayList<>();
    final List<Type> types = new ArrayList<>();
    final List<Integer> key = new ArrayList<>();
    /** A column that one side alone has; empty for none. */
    final String onlyInSource;

    final String onlyInTarget;
    List<Object[]> source = new ArrayList<>();
    List<Object[]> target = new ArrayList<>();

    SoakTable(Random random, String schema, String name, int most) {
        this.schema = schema;
        this.name = name;
        List<String> names = new ArrayList<>(Arrays.asList(NAMES));
        Collections.shuffle(names, random);
        int count = 1 + random.nextInt(9);
        for (int i = 0; i < count; i++) {
            columns.add(names.get(i));
            types.add(pick(random, Type.values()));
        }
        int keyColumns = random.nextInt(6) == 0 ? 0 : 1 + random.nextInt(Math.min(3, count));
        for (int i = 0; i < keyColumns; i++) {
            key.add(i);
            types.set(i, KEY_TYPES.get(random.nextInt(KEY_TYPES.size())));
        }
        Collections.shuffle(key, random);
        onlyInSource = random.nextInt(12) == 0 ? "only here" : "";
        onlyInTarget = random.nextInt(12) == 0 ? "only there" : "";
        fill(random, random.nextInt(8) == 0 ? 0 : random.nextInt(random.nextInt(60) == 0 ? most : 60));
    }

    @SafeVarargs
    private static <T> T pick(Random random, T... choices) {
        return choices[random.nextInt(choices.length)];
    }

    /** Now and then one of the edges. */
    @SafeVarargs
    private static <T> T edge(Random random, T usual, T... edges) {
        return random.nextInt(5) == 0 ? edges[random.nextInt(edges.length)] : usual;
    }

    private static Object text(Random random) {
        return IntStream.range(0, random.nextInt(6))
                .mapToObj(i -> pick(random, BITS))
                .collect(Collectors.joining());
    }

    private static Object time(Random random) {
        LocalDateTime time = LocalDateTime.of(1900, 1, 1, 0, 0).plusSeconds(random.nextInt());
        return random.nextBoolean() ? time : time.plusNanos(random.nextInt(1_000_000) * 1_000L);
    }

    /** Rows of both sides; many the same, others lost, added, edited, their values swapped, negated or moved. */
    private void fill(Random random, int count) {
        Set<String> seen = new TreeSet<>();
        boolean quiet = random.nextInt(4) == 0;
        for (int i = 0; i < count; i++) {
            Object[] row = row(random);
            if (!key.isEmpty() && !seen.add(keyText(row))) {
                continue;
            }
            int fate = quiet ? 9 : random.nextInt(24);
            if (fate != 1) {
                source.add(row);
            }
            if (fate != 0) {
                target.add(fate == 2 || fate == 3 ? edited(random, row) : row);
            }
        }
        if (!quiet && random.nextInt(3) == 0) {
            swap(random);
        }
        Collections.shuffle(target, random);
    }

    private Object[] row(Random random) {
        Object[] row = new Object[columns.size()];
        for (int c = 0; c < row.length; c++) {
            row[c] = !key.contains(c) && random.nextInt(7) == 0
                    ? null
                    : types.get(c).make.apply(random);
        }
        return row;
    }

    private Object[] edited(Random random, Object[] row) {
        Object[] edited = row.clone();
        for (int c = 0; c < row.length; c++) {
            if (!key.contains(c) && random.nextInt(3) == 0) {
                Object made = random.nextInt(7) == 0 ? null : types.get(c).make.apply(random);
                edited[c] = row[c] instanceof BigDecimal d && random.nextBoolean()
                        ? d.negate()
                        : row[c] instanceof Double f && random.nextBoolean() ? Double.valueOf(-f) : made;
            }
        }
        return edited;
    }

    /** Two rows of the target exchange their values in one column: what a sum of the column would not show. */
    private void swap(Random random) {
        List<Integer> values = IntStream.range(0, columns.size())
                .filter(c -> !key.contains(c))
                .boxed()
                .toList();
        if (values.isEmpty() || target.size() < 2) {
            return;
        }
        int column = values.get(random.nextInt(values.size()));
        int one = random.nextInt(target.size());
        int other = random.nextInt(target.size());
        Object[] first = target.get(one).clone();
        Object[] second = target.get(other).clone();
        if (one != other) {
            Object kept = first[column];
            first[column] = second[column];
            second[column] = kept;
            target.set(one, first);
            target.set(other, second);
        }
    }

    String keyText(Object[] row) {
        return key.stream().map(c -> plain(row[c])).collect(Collectors.joining(","));
    }

    /** One text per value, whatever the engine holds it as. */
    static String plain(Object value) {
        if (value instanceof BigDecimal decimal) {
            return decimal.signum() == 0 ? "0" : decimal.stripTrailingZeros().toPlainString();
        } else if (value instanceof Double real) {
            return real == 0 ? "0.0" : real.toString();
        } else if (value instanceof byte[] bytes) {
            return "x" + HexFormat.of().formatHex(bytes);
        } else if (value instanceof LocalDateTime time) {
            return time.toLocalDate() + " " + java.time.format.DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        return String.valueOf(value);
    }

    /**
     * What must be found: kind and key to the columns that differ; without a key, the numbers of missing and extra rows.
     *
     * @param wanted which rows are compared
     */
    Map<String, Set<String>> expected(BiPredicate<SoakTable, Object[]> wanted) {
        return expected(wanted, (column, one, other) -> plain(one).equals(plain(other)));
    }

    /** Whether two values of a column are the same, by whatever rule. */
    interface Same {
        boolean test(int column, Object one, Object other);
    }

    Map<String, Set<String>> expected(BiPredicate<SoakTable, Object[]> wanted, Same same) {
        Map<String, Set<String>> expected = new TreeMap<>();
        List<Object[]> ones = source.stream().filter(r -> wanted.test(this, r)).toList();
        List<Object[]> others =
                target.stream().filter(r -> wanted.test(this, r)).toList();
        if (key.isEmpty()) {
            Map<String, Long> surplus = new HashMap<>();
            ones.forEach(r -> surplus.merge(whole(r), 1L, Long::sum));
            others.forEach(r -> surplus.merge(whole(r), -1L, Long::sum));
            long missing = surplus.values().stream()
                    .filter(n -> n > 0)
                    .mapToLong(n -> n)
                    .sum();
            long extra = -surplus.values().stream()
                    .filter(n -> n < 0)
                    .mapToLong(n -> n)
                    .sum();
            if (missing + extra > 0) {
                expected.put("missing rows " + missing + ", extra rows " + extra, Set.of());
            }
            return expected;
        }
        Map<String, Object[]> byKey = new LinkedHashMap<>();
        ones.forEach(r -> byKey.put(keyText(r), r));
        for (Object[] other : others) {
            Object[] one = byKey.remove(keyText(other));
            if (one == null) {
                expected.put("extra " + keyText(other), Set.of());
                continue;
            }
            Set<String> differing = new TreeSet<>();
            for (int c = 0; c < one.length; c++) {
                if (!plain(one[c]).equals(plain(other[c])) && !same.test(c, one[c], other[c])) {
                    differing.add(columns.get(c));
                }
            }
            if (!differing.isEmpty()) {
                expected.put("changed " + keyText(one), differing);
            }
        }
        byKey.keySet().forEach(k -> expected.put("missing " + k, Set.of()));
        return expected;
    }

    private static String whole(Object[] row) {
        return Arrays.stream(row).map(SoakTable::plain).collect(Collectors.joining("\0"));
    }

    /** Makes the table as one side has it. */
    void create(Database database, Connection connection, boolean isSource) throws SQLException {
        String full = (schema.isEmpty() ? "" : database.quote(schema) + ".") + database.quote(name);
        int kind = database.kind().like().ordinal();
        boolean maria = database.kind().like() == Database.Kind.MARIADB;
        boolean bare = kind == Database.Kind.SQLITE.ordinal() || kind == Database.Kind.DUCKDB.ordinal();
        List<String> declared = new ArrayList<>();
        for (int c = 0; c < columns.size(); c++) {
            String type = types.get(c).declared.get(kind);
            // A key under a collation that holds different letters equal would refuse some of the rows.
            String collation =
                    maria && key.contains(c) && types.get(c) == Type.TEXT ? " COLLATE utf8mb4_nopad_bin" : "";
            String nullable = key.contains(c) ? " NOT NULL" : maria ? " NULL" : "";
            declared.add(database.quote(columns.get(c)) + " " + type + collation + nullable);
        }
        String lone = isSource ? onlyInSource : onlyInTarget;
        if (!lone.isEmpty()) {
            declared.add(database.quote(lone) + " INTEGER");
        }
        if (!key.isEmpty()) {
            declared.add("PRIMARY KEY ("
                    + key.stream().map(c -> database.quote(columns.get(c))).collect(Collectors.joining(", ")) + ")");
        }
        try (Statement statement = connection.createStatement()) {
            statement.execute("CREATE TABLE " + full + " (" + String.join(", ", declared) + ")");
        }
        String names = columns.stream().map(database::quote).collect(Collectors.joining(", "));
        try (PreparedStatement insert = connection.prepareStatement(
                "INSERT INTO " + full + " (" + names + ") VALUES (" + "?, ".repeat(columns.size() - 1) + "?)")) {
            for (Object[] row : isSource ? source : target) {
                for (int c = 0; c < row.length; c++) {
                    insert.setObject(
                            c + 1, bound(row[c], types.get(c), database.kind().like(), bare));
                }
                insert.addBatch();
            }
            insert.executeBatch();
        }
    }

    private static Object bound(Object value, Type type, Database.Kind kind, boolean bare) {
        if (value instanceof LocalDateTime time && type == Type.INSTANT) {
            OffsetDateTime instant = time.atOffset(ZoneOffset.UTC);
            return kind.like() == Database.Kind.MARIADB ? plain(time) : bare ? plain(time) + "+00" : instant;
        }
        boolean asText = value instanceof BigDecimal
                || value instanceof LocalDate
                || value instanceof LocalTime
                || value instanceof LocalDateTime
                || value instanceof java.util.UUID;
        boolean textual = bare || kind.like() == Database.Kind.MARIADB;
        if (value instanceof LocalTime time && textual) {
            return java.time.format.DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        return asText && textual ? plain(value) : value;
    }

    /** Without the columns that must be there, for a smaller case of the same failure. */
    String story() {
        StringBuilder story =
                new StringBuilder("table " + (schema.isEmpty() ? "" : schema + ".") + name + " " + columns + " "
                        + types + " key " + key + (onlyInSource.isEmpty() ? "" : " source has " + onlyInSource)
                        + (onlyInTarget.isEmpty() ? "" : " target has " + onlyInTarget));
        story.append("\n  source");
        source.forEach(r -> story.append("\n    ").append(shown(r)));
        story.append("\n  target");
        target.forEach(r -> story.append("\n    ").append(shown(r)));
        return story.toString();
    }

    private static String shown(Object[] row) {
        String text = Arrays.stream(row).map(SoakTable::plain).collect(Collectors.joining(" | "));
        return text.length() > 300
                ? text.substring(0, 300) + "… (" + text.getBytes(StandardCharsets.UTF_8).length + " bytes)"
                : text;
    }
}
