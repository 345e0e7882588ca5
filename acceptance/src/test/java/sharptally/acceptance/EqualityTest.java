package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.ComparisonSettings;
import sharptally.core.compare.Method;
import sharptally.core.compare.Pair;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.run.RangedComparison;
import sharptally.core.finding.Finding;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.SumsRequest.Form;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.Cast;
import sharptally.core.rows.CellOrder;
import sharptally.core.rows.Column;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.Engines;

/**
 * What every form of hash and every join must hold, on the real servers: of each type, edge values have one hash exactly
 * where they are equal when they are read; values that change places change the hash of the row; no two changes of two rows
 * cancel in a sum; and joins hand over what reading would find.
 */
@InTurn(2)
class EqualityTest {
    private static final Set<Kind> TIMES = EnumSet.of(Kind.TIME, Kind.TIMESTAMP, Kind.INSTANT);
    private static final int JOINED_VALUES = 40;
    private static final int ROWS_OF_SUM = 12;
    private static final int VARIANTS = 30;
    private static final int MOST_ROWS = 4_000;

    @TempDir
    static Path folder;

    /** A table of one type's values. */
    private record Filled(EdgeValues edge, String table) {}

    private static List<Filled> fill(Database database, List<EdgeValues> all) throws Exception {
        List<Filled> filled = new ArrayList<>();
        boolean maria = database.kind().like() == Database.Kind.MARIADB;
        try (var connection = database.connect();
                var statement = connection.createStatement()) {
            if (maria) {
                statement.execute("SET sql_mode = 'ALLOW_INVALID_DATES'");
            }
            for (EdgeValues edge : all) {
                String table = "v" + filled.size();
                String nullable = edge.type().startsWith("timestamp") && maria ? " NULL" : "";
                String columns = "(id bigint primary key, k bigint NOT NULL, a " + edge.type() + nullable + ", b "
                        + edge.type() + nullable + ", c " + edge.type() + nullable + ")";
                statement.execute("CREATE TABLE " + table + " " + columns);
                int id = 0;
                for (String literal : edge.literals()) {
                    statement.execute("INSERT INTO " + table + " (id, k, a) VALUES (" + ++id + ", 0, " + literal + ")");
                }
                statement.execute("INSERT INTO " + table + " (id, k) VALUES (" + ++id + ", 0)");
                for (String more : List.of("rows", "sums", "s", "t")) {
                    statement.execute("CREATE TABLE " + table + more + " " + columns);
                }
                filled.add(new Filled(edge, table));
            }
        }
        return filled;
    }

    private static Place open(Database database) {
        Address address = Address.parse(database.address());
        return Engines.of(address).open(PlaceAccess.of(address));
    }

    /** Each row's hash, by its id. */
    private static Map<Long, Long> hashes(Place place, String table, List<String> columns, Form form) {
        return hashes(place, table, columns, form, CanonicalType.ANY_DIGITS);
    }

    /** The same with no more than so many digits of a second. */
    private static Map<Long, Long> hashes(Place place, String table, List<String> columns, Form form, int digits) {
        var shape = place.describe(table);
        ColumnShape id = shape.column("id").orElseThrow();
        List<Hashed> hashed = columns.stream()
                .map(c -> shape.column(c).orElseThrow())
                .map(c -> new Hashed(
                        c,
                        c.type().orElseThrow().kind(),
                        Math.min(digits, c.type().orElseThrow().digits())))
                .toList();
        SumsRequest request = new SumsRequest(
                shape,
                hashed,
                List.of(id),
                List.of(new KeyRange(List.of(new Value.Int(0)), List.of(new Value.Int(MOST_ROWS)))),
                OptionalLong.of(1),
                form);
        if (place.checksums().map(c -> c.problem(request).isPresent()).orElse(true)) {
            return Map.of();
        }
        Map<Long, RangeSum> sums = place.checksums().orElseThrow().sums(request);
        sums.values().forEach(s -> {
            assertThat(s.rows()).isEqualTo(1);
            assertThat(s.unhashed()).isZero();
        });
        return sums.entrySet().stream()
                .collect(Collectors.toMap(Map.Entry::getKey, e -> e.getValue().sum()));
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "POSTGRESQL_13", "MARIADB", "MYSQL"})
    void hashesAreOneExactlyWhereValuesAre(Database.Kind kind) throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        Database database = new Database(kind, folder, "edges");
        List<Filled> all = fill(
                database,
                kind == Database.Kind.MYSQL
                        ? EdgeValues.ofOldestMySql(random)
                        : kind == Database.Kind.MARIADB ? EdgeValues.ofMaria(random) : EdgeValues.ofPostgres(random));
        List<String> wrong = new ArrayList<>();
        for (Filled filled : all) {
            spread(database, filled, random);
            try (Place place = open(database);
                    Place other = open(database)) {
                for (Form form : Form.values()) {
                    String where = "seed " + seed + " " + filled.edge().type() + " " + form + ": ";
                    values(place, filled, form).forEach(w -> wrong.add(where + w));
                    rows(place, filled, form).forEach(w -> wrong.add(where + w));
                    sums(place, filled, form).forEach(w -> wrong.add(where + w));
                }
                digits(place, filled).forEach(w -> wrong.add("seed " + seed + " " + w));
                methods(place, other, filled).forEach(w -> wrong.add("seed " + seed + " " + w));
            }
        }
        assertThat(wrong).isEmpty();
    }

    /** (a) All pairs of values. */
    private static List<String> values(Place place, Filled filled, Form form) {
        Map<Long, Long> hashes = hashes(place, filled.table(), List.of("a"), form);
        if (hashes.isEmpty()) {
            return form == Form.OWN
                            && place.checksums().flatMap(Checksums::ownForm).isPresent()
                    ? List.of("has no hash")
                    : List.of();
        }
        Column cells = cells(place, filled.table());
        List<String> wrong = new ArrayList<>();
        if (form == Form.COMMON && hasOneFormEverywhere(filled.edge().type())) {
            sharptally.core.checksum.RowHash here = new sharptally.core.checksum.RowHash();
            for (int i = 0; i < cells.size(); i++) {
                // Invalid dates, which MariaDB alone can hold, are kept as text.
                boolean date = filled.edge().type().startsWith("date") && cells.value(i) instanceof Value.Text;
                if (!date && hashes.get(i + 1L) != here.of(List.of(cells.value(i)))) {
                    wrong.add(cells.value(i) + " has another hash here");
                }
            }
        }
        for (int i = 0; i < cells.size(); i++) {
            for (int j = i + 1; j < cells.size(); j++) {
                boolean equal = CellOrder.same(cells, i, cells, j);
                boolean one = hashes.get(i + 1L).equals(hashes.get(j + 1L));
                // Documents of one meaning in two forms are read, and then found equal.
                boolean maybe = equal && filled.edge().type().startsWith("json");
                if (one != equal && !maybe) {
                    wrong.add(
                            cells.value(i) + " and " + cells.value(j) + (one ? " have one hash" : " have two hashes"));
                }
            }
        }
        return wrong;
    }

    /** Documents are hashed as they are written; MariaDB writes very small and very large floating values in its own way. */
    private static boolean hasOneFormEverywhere(String type) {
        return !type.startsWith("json") && !type.equals("double") && !type.equals("float");
    }

    private static TableMatch match(Place place, String one, String other) {
        return MatchPlanner.plan(
                place.describe(one),
                place.describe(other),
                MatchRequest.ofTables(one, other, List.of("id"), List.of()));
    }

    private static Column cells(Place place, String table) {
        TableMatch match = match(place, table, table);
        ColumnPair pair = match.pairs().stream()
                .filter(p -> p.name().equals("a"))
                .findFirst()
                .orElseThrow();
        ReadRequest request = new ReadRequest(
                match.source(),
                List.of(pair.source()),
                List.of(match.pairs().get(0).source()));
        Column all = new Column(16);
        try (RowSource rows = place.read(request)) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                Column cast = pair.sourceCast().apply(batch.get().column(0));
                for (int row = 0; row < batch.get().rows(); row++) {
                    all.add(cast.value(row));
                }
            }
        }
        return all;
    }

    /** Rows of all triples of some values, rows that differ in their number alone, and all pairs of values side by side. */
    private static void spread(Database database, Filled filled, Random random) throws Exception {
        int count = filled.edge().literals().size() + 1;
        String few = "(" + some(random, count, 8) + ", " + count + ")";
        String variants = "(" + some(random, count, VARIANTS) + ", 1, 2, " + count + ")";
        String joined = "(" + some(random, count, JOINED_VALUES) + ", 1, 2, " + count + ")";
        String v = filled.table();
        String rows = IntStream.rangeClosed(1, ROWS_OF_SUM)
                .mapToObj(i -> "SELECT " + i * 7_919 + " AS k")
                .collect(Collectors.joining(" UNION ALL "));
        boolean numbers = database.kind() != Database.Kind.MYSQL;
        String counter = numbers ? "" : " CROSS JOIN (SELECT @n := 0) n";
        String cast =
                database.kind() == Database.Kind.MARIADB ? "SET STATEMENT sql_mode = 'ALLOW_INVALID_DATES' FOR " : "";
        database.execute(
                cast + "INSERT INTO " + v
                        + "rows SELECT "
                        + (numbers ? "row_number() over (order by x.id, y.id, z.id)" : "@n := @n + 1")
                        + ", 0, x.a, y.a, z.a FROM "
                        + v + " x CROSS JOIN " + v + " y CROSS JOIN " + v + " z" + counter + " WHERE x.id IN " + few
                        // Each value twice over as well: what two hashes have in common may add up in a chain.
                        + " AND (y.id = z.id OR y.id IN " + few + " AND z.id IN " + few + ")",
                cast + "INSERT INTO " + v
                        + "sums SELECT " + (numbers ? "row_number() over (order by k.k, x.id, y.id)" : "@n := @n + 1")
                        + ", k.k, x.a, y.a, NULL FROM (" + rows + ") k CROSS JOIN " + v + " x CROSS JOIN " + v + " y"
                        + counter + " WHERE x.id IN " + variants
                        + " AND y.id IN (1, 2, 3, " + count + ")",
                cast + "INSERT INTO " + v + "s SELECT x.id * 1000 + y.id, 0, x.a, NULL, NULL FROM " + v
                        + " x CROSS JOIN " + v + " y WHERE x.id IN " + joined + " AND y.id IN " + joined,
                cast + "INSERT INTO " + v + "t SELECT x.id * 1000 + y.id, 0, y.a, NULL, NULL FROM " + v
                        + " x CROSS JOIN " + v + " y WHERE x.id IN " + joined + " AND y.id IN " + joined);
    }

    private static String some(Random random, int count, int wanted) {
        return random.ints(1, count + 1)
                .limit(10L * wanted)
                .distinct()
                .limit(wanted)
                .mapToObj(Integer::toString)
                .collect(Collectors.joining(", "));
    }

    /** Times of which fewer digits of a second are compared are hashed as what is left of them, whatever the number. */
    private static List<String> digits(Place place, Filled filled) {
        CanonicalType type =
                place.describe(filled.table()).column("a").orElseThrow().type().orElseThrow();
        if (!TIMES.contains(type.kind())) {
            return List.of();
        }
        Column cells = cells(place, filled.table());
        List<String> wrong = new ArrayList<>();
        for (int digits = 0; digits < type.digits(); digits++) {
            Map<Long, Long> hashes = hashes(place, filled.table(), List.of("a"), Form.COMMON, digits);
            Column cut = new Cast(type, type.kind(), digits).apply(cells);
            sharptally.core.checksum.RowHash here = new sharptally.core.checksum.RowHash();
            for (int i = 0; i < cells.size(); i++) {
                // Invalid dates are text; what is left of a time just below zero keeps its sign in MariaDB.
                boolean odd = cells.value(i) instanceof Value.Text
                        || cells.value(i).toString().startsWith("-00:00:00.");
                if (!odd && hashes.get(i + 1L) != here.of(List.of(cut.value(i)))) {
                    wrong.add(filled.edge().type() + " to " + digits + " digits: " + cells.value(i)
                            + " has another hash here, where it is " + cut.value(i));
                }
            }
        }
        return wrong;
    }

    /** (b) Values that changed places within a row, or were joined differently. */
    private static List<String> rows(Place place, Filled filled, Form form) {
        return ambiguous(place, filled.table() + "rows", List.of("a", "b", "c"), form).entrySet().stream()
                .filter(e -> e.getValue().stream().distinct().count() > 1)
                .map(e -> "rows of one hash: " + e.getValue())
                .limit(3)
                .toList();
    }

    /** By hash, what the rows hold, in the form in which values are one when they are equal. */
    private static Map<Long, List<String>> ambiguous(Place place, String table, List<String> columns, Form form) {
        Map<Long, Long> hashes = hashes(place, table, columns, form);
        Map<Long, List<String>> found = new HashMap<>();
        if (!hashes.isEmpty()) {
            contents(place, table, columns)
                    .forEach((id, row) -> found.computeIfAbsent(hashes.get(id), h -> new ArrayList<>())
                            .add(row));
        }
        return found;
    }

    private static Map<Long, String> contents(Place place, String table, List<String> columns) {
        TableMatch match = match(place, table, table);
        Map<Long, String> contents = new HashMap<>();
        ReadRequest request = new ReadRequest(match.source(), match.sourceColumns(), List.of());
        try (RowSource rows = place.read(request)) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                List<Column> cast = new ArrayList<>();
                for (int i = 0; i < match.pairs().size(); i++) {
                    cast.add(match.pairs().get(i).sourceCast().apply(batch.get().column(i)));
                }
                for (int row = 0; row < batch.get().rows(); row++) {
                    StringBuilder text = new StringBuilder();
                    for (int i = 0; i < cast.size(); i++) {
                        if (columns.contains(match.pairs().get(i).name())) {
                            text.append(inOneForm(cast.get(i).value(row))).append(" · ");
                        }
                    }
                    contents.put(((Value.Int) cast.get(0).value(row)).value(), text.toString());
                }
            }
        }
        return contents;
    }

    private static String inOneForm(Value value) {
        return value.getClass().getSimpleName() + " " + sharptally.core.checksum.CommonText.of(value);
    }

    /** (c) Changes of two rows that cancel in the sum: looked for among all changes of some rows. */
    private static List<String> sums(Place place, Filled filled, Form form) {
        String table = filled.table() + "sums";
        List<String> columns = List.of("k", "a", "b");
        Map<Long, Long> hashes = hashes(place, table, columns, form);
        if (hashes.isEmpty()) {
            return List.of();
        }
        Map<String, Map<String, Long>> byRow = new HashMap<>();
        contents(place, table, columns).forEach((id, row) -> {
            int end = row.indexOf(" · ");
            byRow.computeIfAbsent(row.substring(0, end), k -> new HashMap<>()).put(row.substring(end), hashes.get(id));
        });
        Map<Long, String> changes = new HashMap<>();
        List<String> wrong = new ArrayList<>();
        byRow.forEach((row, variants) -> variants.forEach((from, before) -> variants.forEach((to, after) -> {
            if (!from.equals(to)) {
                // Both directions of each change are there; so one that is equal to another's cancels the other's
                // opposite.
                String earlier = changes.putIfAbsent(after - before, row + from + "→" + to);
                if (earlier != null && wrong.size() < 3) {
                    wrong.add("changes that cancel: " + earlier + " and " + row + to + "→" + from);
                }
            }
        })));
        return wrong;
    }

    /** All methods find the same among all pairs of values. */
    private static List<String> methods(Place place, Place other, Filled filled) {
        TableMatch match = match(place, filled.table() + "s", filled.table() + "t");
        List<String> expected = findings(match, place, other, Method.STREAM);
        assertThat(expected).isNotEmpty();
        List<String> wrong = new ArrayList<>();
        for (Method method : List.of(Method.JOINED, Method.CHECKSUM)) {
            List<String> found;
            try {
                found = findings(match, place, other, method);
            } catch (sharptally.core.fault.ToolException e) {
                if (!e.getMessage().contains("can't compare by method")) {
                    throw e;
                }
                continue;
            }
            if (!found.equals(expected)) {
                List<String> lost = new ArrayList<>(expected);
                lost.removeAll(found);
                wrong.add(filled.edge().type() + " " + method + " lost "
                        + lost.stream().limit(4).toList() + " of " + expected.size());
            }
        }
        return wrong;
    }

    private static List<String> findings(TableMatch match, Place place, Place other, Method method) {
        List<String> found = new ArrayList<>();
        Keeper keeper = new Keeper(found);
        ComparisonSettings manner = new ComparisonSettings(
                method, KeyRange.ALL, ComparisonSettings.ROWS_PER_RANGE, 1, Optional.empty(), Optional.empty());
        var outcome = new RangedComparison(
                        match,
                        List.of(new Pair(place, other)),
                        manner,
                        keeper,
                        ComparisonContext.quiet(Path.of(System.getProperty("java.io.tmpdir"))))
                .run(-1);
        assertThat(outcome.remarks()).as(match.source().name() + " " + method).isEmpty();
        found.sort(null);
        return found;
    }

    /** Keeps findings in memory; ranges are not gone on with. */
    private record Keeper(List<String> found, Map<Integer, RangeResult> parts) implements PartKeeper {
        Keeper(List<String> found) {
            this(found, new HashMap<>());
        }

        @Override
        public Optional<List<KeyRange>> ranges() {
            return Optional.empty();
        }

        @Override
        public void cut(List<KeyRange> ranges) {}

        @Override
        public Optional<RangeResult> finished(int range) {
            return Optional.ofNullable(parts.get(range));
        }

        @Override
        public Sink open(int range) {
            return new Sink() {
                @Override
                public void accept(Finding finding) {
                    found.add(finding.toString());
                }

                @Override
                public void restart() {
                    found.clear();
                }

                @Override
                public void close() {}
            };
        }

        @Override
        public void finish(int range, RangeResult part) {
            parts.put(range, part);
        }

        @Override
        public void restart() {
            found.clear();
        }
    }
}
