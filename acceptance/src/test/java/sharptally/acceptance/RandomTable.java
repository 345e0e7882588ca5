package sharptally.acceptance;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * A table of random columns and rows, and a copy of it after random edits, together with what a comparison must find:
 * the oracle is the list of edits itself.
 */
final class RandomTable {
    /** What a column holds: its declaration per engine, and how values are made up. */
    enum Type {
        INT(
                "INTEGER",
                "BIGINT",
                "BIGINT",
                "bigint",
                "bigint",
                r -> r.nextInt(5) == 0
                        ? pick(r, Long.MIN_VALUE, Long.MAX_VALUE, 0L)
                        : Long.valueOf(r.nextLong() >> r.nextInt(64))),
        DECIMAL(
                "DECIMAL(14, 4)",
                "NUMERIC(14, 4)",
                "DECIMAL(14, 4)",
                "numeric(14, 4)",
                "decimal(14, 4)",
                r -> BigDecimal.valueOf(r.nextLong() % 10_000_000_000L, r.nextInt(5))),
        DOUBLE(
                "DOUBLE",
                "DOUBLE PRECISION",
                "DOUBLE",
                "double precision",
                "double",
                r -> r.nextInt(4) == 0
                        ? pick(r, 4.9e-324, 1.7976931348623157e308, 0.1, -1.0)
                        : Double.valueOf((r.nextDouble() - 0.5) * Math.pow(10, r.nextInt(40) - 20))),
        TEXT("TEXT", "VARCHAR(200)", "VARCHAR", "varchar(200)", "varchar(200)", RandomTable::text),
        CLOB("CLOB", "CLOB", "VARCHAR", "text", "longtext", RandomTable::text),
        BYTES("BLOB", "VARBINARY(100)", "BLOB", "bytea", "varbinary(100)", r -> {
            byte[] bytes = new byte[r.nextInt(20)];
            r.nextBytes(bytes);
            return bytes;
        }),
        DATE(
                "DATE",
                "DATE",
                "DATE",
                "date",
                "date",
                r -> LocalDate.of(1000, 1, 1).plusDays(r.nextInt(3_000_000))),
        TIMESTAMP(
                "TIMESTAMP",
                "TIMESTAMP(6)",
                "TIMESTAMP",
                "timestamp",
                "datetime(6)",
                r -> LocalDateTime.of(1900, 1, 1, 0, 0)
                        .plusSeconds(r.nextInt())
                        .plusNanos(r.nextBoolean() ? 0 : r.nextInt(1_000_000) * 1_000L)),
        FLAG("BOOLEAN", "BOOLEAN", "BOOLEAN", "boolean", "tinyint(1)", Random::nextBoolean);

        final List<String> declared;
        final Function<Random, Object> make;

        /** Declarations in the order of {@link Database.Kind}. */
        Type(
                String sqlite,
                String h2,
                String duckdb,
                String postgresql,
                String mariadb,
                Function<Random, Object> make) {
            this.declared = List.of(sqlite, h2, duckdb, postgresql, mariadb);
            this.make = make;
        }
    }

    private static final String[] BITS = {
        "a", "B", "'", "''", "\"", "\\", "\n", "\r\n", "\t", " ", "  ", "é", "e\u0301", "ß", "Ω", "名", "\uFFFC", "🌊",
        "𝄞", ";", "--", "%", "NULL", "0", "\\u0041", "{}", "\u007f"
    };
    private static final String[] NAMES = {"id", "a b", "select", "q\"q", "it's", "größe", "x.y", "Order", "名前", "p%"};

    final List<String> columns = new ArrayList<>();
    final List<Type> types = new ArrayList<>();
    final List<Integer> key = new ArrayList<>();
    final boolean declaredKey;
    final List<Object[]> source = new ArrayList<>();
    final List<Object[]> target = new ArrayList<>();
    /** Finding, as kind and key, to the columns that differ. */
    final Map<String, Set<String>> expected = new LinkedHashMap<>();

    private final boolean padsKeys;
    private final boolean holdsEmpty;

    /**
     * @param kinds of the databases that are to hold it, of which some take texts for equal that end in other blanks
     */
    RandomTable(Random random, Database.Kind... kinds) {
        this(random, List.of(kinds).contains(Database.Kind.MYSQL), true);
    }

    /**
     * @param padsKeys whether texts that end in other blanks are one key
     * @param holdsEmpty whether a text or bytes may be empty
     */
    RandomTable(Random random, boolean padsKeys, boolean holdsEmpty) {
        this.padsKeys = padsKeys;
        this.holdsEmpty = holdsEmpty;
        int count = 2 + random.nextInt(NAMES.length - 2);
        List<String> names = new ArrayList<>(Arrays.asList(NAMES));
        java.util.Collections.shuffle(names, random);
        for (int i = 0; i < count; i++) {
            columns.add(names.get(i));
            types.add(pick(random, Type.values()));
        }
        int keyColumns = random.nextInt(5) == 0 ? 0 : 1 + random.nextInt(Math.min(3, count));
        Type[] keyTypes = {Type.INT, Type.TEXT, Type.DATE, Type.DECIMAL, Type.TIMESTAMP, Type.BYTES};
        for (int i = 0; i < keyColumns; i++) {
            key.add(i);
            types.set(i, pick(random, keyTypes));
        }
        java.util.Collections.shuffle(key, random);
        declaredKey = keyColumns > 0 && random.nextInt(4) > 0;
        rows(random, random.nextInt(400));
    }

    private void rows(Random random, int count) {
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < count; i++) {
            Object[] row = newRow(random);
            for (int c = 0; padsKeys && c < row.length; c++) {
                row[c] = key.contains(c) && row[c] instanceof String text ? text.replaceAll(" +$", "") : row[c];
            }
            if (!key.isEmpty() && !seen.add(keyText(row))) {
                continue;
            }
            int fate = random.nextInt(20);
            if (fate == 0) {
                source.add(row);
                expect("missing", row, Set.of());
            } else if (fate == 1) {
                target.add(row);
                expect("extra", row, Set.of());
            } else if (fate == 2 && !key.isEmpty() && key.size() < columns.size()) {
                Object[] edited = row.clone();
                Set<String> differing = new TreeSet<>();
                for (int c = 0; c < columns.size(); c++) {
                    if (!key.contains(c) && random.nextInt(3) == 0) {
                        edited[c] = other(random, c, row[c]);
                        differing.add(columns.get(c));
                    }
                }
                source.add(row);
                target.add(edited);
                if (!differing.isEmpty()) {
                    expect("changed", row, differing);
                }
            } else {
                source.add(row);
                target.add(row);
            }
        }
        java.util.Collections.shuffle(target, random);
        if (key.isEmpty()) {
            expectCounts();
        }
    }

    /** Without a key, rows are a multiset, and equal ones may have been lost and added at once. */
    private void expectCounts() {
        Map<String, Long> surplus = new LinkedHashMap<>();
        source.forEach(row -> surplus.merge(rowText(row), 1L, Long::sum));
        target.forEach(row -> surplus.merge(rowText(row), -1L, Long::sum));
        expected.clear();
        long missing =
                surplus.values().stream().filter(n -> n > 0).mapToLong(n -> n).sum();
        long extra =
                -surplus.values().stream().filter(n -> n < 0).mapToLong(n -> n).sum();
        expected.put("missing rows " + missing, Set.of());
        expected.put("extra rows " + extra, Set.of());
    }

    private void expect(String kind, Object[] row, Set<String> differing) {
        expected.put(kind + " " + keyText(row), differing);
    }

    private Object[] newRow(Random random) {
        Object[] row = new Object[columns.size()];
        for (int c = 0; c < row.length; c++) {
            boolean mayBeNull = !key.contains(c);
            row[c] = mayBeNull && random.nextInt(7) == 0 ? null : made(random, c);
        }
        return row;
    }

    private Object made(Random random, int column) {
        while (true) {
            Object value = types.get(column).make.apply(random);
            boolean empty = value instanceof byte[] bytes && bytes.length == 0
                    || String.valueOf(value).isBlank();
            if (holdsEmpty || !empty) {
                return value;
            }
        }
    }

    private Object other(Random random, int column, Object value) {
        while (true) {
            Object made = random.nextInt(7) == 0 ? null : made(random, column);
            if (!plain(made).equals(plain(value))) {
                return made;
            }
        }
    }

    private String keyText(Object[] row) {
        return key.stream().map(c -> plain(row[c])).collect(Collectors.joining(","));
    }

    private String rowText(Object[] row) {
        return Arrays.stream(row).map(RandomTable::plain).collect(Collectors.joining("|"));
    }

    /** One text per value, whatever the engine holds it as. */
    static String plain(Object value) {
        if (value instanceof BigDecimal decimal) {
            return decimal.signum() == 0 ? "0" : decimal.stripTrailingZeros().toPlainString();
        }
        if (value instanceof byte[] bytes) {
            return "x" + java.util.HexFormat.of().formatHex(bytes);
        }
        if (value instanceof LocalDateTime time) {
            return time.toLocalDate() + " " + java.time.format.DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        return String.valueOf(value);
    }

    void create(Database database, List<Object[]> rows) throws SQLException {
        if (database.kind() == Database.Kind.MYSQL && !padsKeys) {
            // It would fail now and then only, when two keys differ by a blank.
            throw new IllegalArgumentException("the kinds of its databases are to be told when a table is made");
        }
        boolean bare = database.kind() == Database.Kind.SQLITE || database.kind() == Database.Kind.DUCKDB;
        String declared = IntStream.range(0, columns.size())
                .mapToObj(c -> database.quote(columns.get(c)) + " " + declared(c, database.kind())
                        + (key.contains(c) ? " NOT NULL" : ""))
                .collect(Collectors.joining(", "));
        String keyNames = key.stream().map(c -> database.quote(columns.get(c))).collect(Collectors.joining(", "));
        String primary = declaredKey ? ", PRIMARY KEY (" + keyNames + ")" : "";
        database.execute("CREATE TABLE " + database.quote("t") + " (" + declared + primary + ")");
        try (Connection connection = database.connect();
                PreparedStatement insert = connection.prepareStatement(
                        "INSERT INTO " + database.quote("t") + " VALUES (" + "?, ".repeat(columns.size() - 1) + "?)")) {
            connection.setAutoCommit(false);
            for (Object[] row : rows) {
                for (int c = 0; c < row.length; c++) {
                    boolean asText = bare
                            && (row[c] instanceof BigDecimal
                                    || row[c] instanceof LocalDate
                                    || row[c] instanceof LocalDateTime);
                    insert.setObject(c + 1, asText ? plain(row[c]) : row[c]);
                }
                insert.executeUpdate();
            }
            connection.commit();
        }
    }

    private String declared(int column, Database.Kind kind) {
        String type = types.get(column).declared.get(kind.like().ordinal());
        boolean maria = kind.like() == Database.Kind.MARIADB;
        // A key under a collation that holds different letters equal would refuse some of the rows.
        return maria && key.contains(column) && types.get(column) == Type.TEXT
                // An index of the oldest MySQL takes 767 bytes of a column.
                ? kind == Database.Kind.MYSQL ? "varchar(180) COLLATE utf8mb4_bin" : type + " COLLATE utf8mb4_nopad_bin"
                : type;
    }

    private static Object text(Random random) {
        return IntStream.range(0, random.nextInt(6))
                .mapToObj(i -> pick(random, BITS))
                .collect(Collectors.joining());
    }

    @SafeVarargs
    static <T> T pick(Random random, T... choices) {
        return choices[random.nextInt(choices.length)];
    }

    @Override
    public String toString() {
        return "columns " + columns + " " + types + ", key " + key + (declaredKey ? " declared" : "") + ", "
                + source.size() + " rows, " + expected.size() + " edits";
    }
}
