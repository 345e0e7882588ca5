package sharptally.acceptance;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;

/** Random tables as Parquet files in two folders, {@code source} and {@code target}, which differ somehow, and their job file. */
final class LakeTables {
    /** A type, the one that the other side may have instead, and values. */
    private record Kind(String type, String other, List<String> values) {
        String ofPostgres() {
            return switch (type) {
                case "DOUBLE" -> "DOUBLE PRECISION";
                case "FLOAT" -> "REAL";
                case "BLOB" -> "BYTEA";
                case "VARCHAR" -> "TEXT";
                default -> type.replace("DECIMAL", "NUMERIC");
            };
        }
    }

    private static final List<Kind> KINDS = List.of(
            new Kind("BIGINT", "DECIMAL(19,0)", List.of("0", "-1", "7", "9007199254740993", "-9223372036854775807")),
            new Kind("INTEGER", "BIGINT", List.of("0", "1", "-2147483647", "42")),
            new Kind("DECIMAL(12,3)", "DECIMAL(18,5)", List.of("0", "0.001", "-1.5", "123456.789")),
            new Kind("DECIMAL(30,5)", "DECIMAL(33,8)", List.of("0", "1.00001", "-1234567890123456789012.5")),
            new Kind("DOUBLE", "DOUBLE", List.of("0", "-0.0", "'nan'", "'inf'", "0.1", "1e300")),
            new Kind("FLOAT", "DOUBLE", List.of("0", "0.5", "-3.25", "1e10")),
            new Kind("VARCHAR", "VARCHAR", List.of("''", "'a'", "'A'", "'gauge \u00e4'", "'it''s'", "'\ud83c\udf0a'")),
            new Kind("DATE", "TIMESTAMP", List.of("'2026-01-01'", "'1969-12-31'", "'0001-01-01'")),
            new Kind("TIMESTAMP", "TIMESTAMP", List.of("'2026-01-01 00:00:00.000001'", "'1969-12-31 23:59:59'")),
            new Kind("TIMESTAMPTZ", "TIMESTAMPTZ", List.of("'2026-01-01 00:00:00+00'", "'2026-07-01 12:00:00.5+02'")),
            new Kind("BOOLEAN", "BOOLEAN", List.of("true", "false")),
            new Kind("BLOB", "BLOB", List.of("''::BLOB", "'\\x00\\xFF'::BLOB", "'\\x61'::BLOB")));

    /** Of the key's columns, and values by the number of a row; none where whole rows are counted. */
    private record Key(List<String> types, List<String> values) {}

    private static final List<Key> KEYS = List.of(
            new Key(List.of("BIGINT"), List.of("%d")),
            new Key(List.of("VARCHAR"), List.of("'Gauge %d'")),
            new Key(List.of("INTEGER", "VARCHAR"), List.of("%1$d %% 5", "'g' || %1$d")),
            new Key(List.of("DECIMAL(12,2)"), List.of("%d / 4.0")),
            new Key(List.of("DOUBLE"), List.of("%d * 0.5")),
            new Key(List.of(), List.of()));

    private final Random random;
    private final Path folder;
    private final List<String> matches = new ArrayList<>();
    private final Map<String, Integer> rows = new LinkedHashMap<>();
    private final List<String> statements = new ArrayList<>();

    LakeTables(Path folder, Random random) throws Exception {
        this.folder = folder;
        this.random = random;
    }

    private <T> T any(List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    private String value(Kind kind) {
        return random.nextInt(8) == 0 ? "NULL" : any(kind.values());
    }

    List<String> names() {
        return List.copyOf(rows.keySet());
    }

    /** A table of some rows, whose target lost, gained and changed some, and has some twice, or without a key. */
    void add(String name, int count) throws Exception {
        Key key = any(KEYS);
        List<Kind> kinds = IntStream.range(0, 2 + random.nextInt(6))
                .mapToObj(i -> any(KINDS))
                .toList();
        boolean drifted = random.nextInt(3) == 0;
        List<List<String>> source = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            List<String> row = new ArrayList<>();
            for (String pattern : key.values()) {
                row.add(String.format(
                        java.util.Locale.ROOT, pattern, key.types().isEmpty() ? 0 : i));
            }
            for (Kind kind : kinds) {
                row.add(value(kind));
            }
            source.add(row);
        }
        List<List<String>> target = new ArrayList<>(source);
        int edits = random.nextInt(4) == 0 ? 0 : random.nextInt(count / (random.nextBoolean() ? 2 : 20) + 1);
        for (int i = 0; i < edits; i++) {
            int at = random.nextInt(target.size());
            List<String> row = new ArrayList<>(target.get(at));
            int fate = random.nextInt(6);
            if (fate == 0 && target.size() > 1) {
                target.remove(at);
            } else if (fate == 1) {
                target.add(row);
            } else if (fate == 2 && !key.types().isEmpty()) {
                row.set(random.nextInt(key.types().size()), "NULL");
                target.add(row);
                (random.nextBoolean() ? source : target).add(row);
            } else {
                int column = key.types().size() + random.nextInt(kinds.size());
                row.set(column, value(kinds.get(column - key.types().size())));
                target.set(at, row);
            }
        }
        Collections.shuffle(target, random);
        write("source", name, key, kinds, false, source);
        write("target", name, key, kinds, drifted, target);
        statements.addAll(ofPostgres(name, key, kinds, target));
        List<String> names =
                IntStream.range(0, key.types().size()).mapToObj(i -> "k" + i).toList();
        matches.add(
                "  - {source: " + name + (names.isEmpty() ? "" : ", key: [" + String.join(", ", names) + "]") + "}");
        rows.put(name, count);
    }

    private void write(String side, String name, Key key, List<Kind> kinds, boolean drifted, List<List<String>> values)
            throws Exception {
        List<String> columns = new ArrayList<>();
        for (int i = 0; i < key.types().size(); i++) {
            columns.add("k" + i + " " + key.types().get(i));
        }
        for (int i = 0; i < kinds.size(); i++) {
            columns.add("c" + i + " "
                    + (drifted ? kinds.get(i).other() : kinds.get(i).type()));
        }
        try (Connection duck = DriverManager.getConnection("jdbc:duckdb:");
                Statement statement = duck.createStatement()) {
            statement.execute("CREATE TABLE t (" + String.join(", ", columns) + ")");
            List<String> rows =
                    values.stream().map(r -> "(" + String.join(", ", r) + ")").toList();
            for (int from = 0; from < rows.size(); from += 500) {
                statement.execute("INSERT INTO t VALUES "
                        + String.join(", ", rows.subList(from, Math.min(rows.size(), from + 500))));
            }
            Path one = Files.createDirectories(folder.resolve("parquet").resolve(side));
            statement.execute("COPY t TO '" + one.resolve(name) + ".parquet' (FORMAT parquet)");
            // Several parts, as of a table that a cluster wrote.
            Path table = Files.createDirectories(
                    folder.resolve("spark").resolve(side).resolve(name));
            for (int part = 0; part < 3; part++) {
                statement.execute("COPY (SELECT * FROM t WHERE rowid % 3 = " + part + ") TO '"
                        + table.resolve("part-" + part + ".parquet") + "' (FORMAT parquet)");
            }
        }
    }

    /** The target once more, in a database that holds the key unique where it is. */
    private static List<String> ofPostgres(String name, Key key, List<Kind> kinds, List<List<String>> values) {
        List<String> columns = new ArrayList<>();
        for (int i = 0; i < key.types().size(); i++) {
            columns.add("k" + i + " "
                    + new Kind(key.types().get(i), "", List.of()).ofPostgres().replace("TEXT", "TEXT COLLATE \"C\""));
        }
        for (int i = 0; i < kinds.size(); i++) {
            columns.add("c" + i + " " + kinds.get(i).ofPostgres());
        }
        List<String> all = new ArrayList<>(List.of("CREATE TABLE " + name + " (" + String.join(", ", columns) + ")"));
        List<String> rows = values.stream()
                .map(r -> "(" + String.join(", ", r).replace("\\xFF", "FF").replace("::BLOB", "::bytea") + ")")
                .toList();
        for (int from = 0; from < rows.size(); from += 500) {
            all.add("INSERT INTO " + name + " VALUES "
                    + String.join(", ", rows.subList(from, Math.min(rows.size(), from + 500))));
        }
        List<List<String>> keys =
                values.stream().map(r -> r.subList(0, key.types().size())).toList();
        if (!key.types().isEmpty()
                && keys.stream().noneMatch(k -> k.contains("NULL"))
                && keys.stream().distinct().count() == keys.size()) {
            List<String> names = IntStream.range(0, key.types().size())
                    .mapToObj(i -> "k" + i)
                    .toList();
            all.add("ALTER TABLE " + name + " ADD PRIMARY KEY (" + String.join(", ", names) + ")");
        }
        all.add("ANALYZE " + name);
        return all;
    }

    /** Which make the tables of the target in PostgreSQL. */
    String[] ofPostgres() {
        return statements.toArray(String[]::new);
    }

    /**
     * The job file of all tables.
     *
     * @param engine that reads both folders
     */
    Path job(String engine) throws Exception {
        return job(engine, engine + ":" + folder.resolve(engine).resolve("target"));
    }

    Path job(String engine, String target) throws Exception {
        return Files.writeString(
                folder.resolve(engine + "-" + Integer.toHexString(target.hashCode()) + ".yaml"),
                "job: 1\nsource: \"" + engine + ":"
                        + folder.resolve(engine).resolve("source") + "\"\ntarget: \"" + target
                        + "\"\nmatches:\n" + String.join("\n", matches) + "\n");
    }
}
