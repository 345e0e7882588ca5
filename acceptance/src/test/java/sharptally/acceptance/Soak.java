package sharptally.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.BiPredicate;
import java.util.stream.Stream;

/**
 * Random databases, random edits, random ways to compare them, for as long as is wanted; what the built program finds is
 * compared with {@link SoakTable#expected}. A failing case is told by its seed and made smaller.
 *
 * <p>Run by {@code bench/soak --minutes N --seed S}; a short one is among the tests.
 */
public final class Soak {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int TABLES = 80;
    private static final int MOST_ROWS = 4_000;
    private static final int MOST_MADE_SMALLER = 3;
    private static final BiPredicate<SoakTable, Object[]> ALL = (table, row) -> true;

    private final Path folder;
    private final Tried tried = new Tried();
    private final List<String> failures = Collections.synchronizedList(new ArrayList<>());

    Soak(Path folder) {
        this.folder = folder;
    }

    List<String> failures() {
        return failures;
    }

    private void fail(String story) {
        System.out.println("FAILED " + story);
        failures.add(story);
    }

    /** What was done so far. */
    private static final class Tried {
        private final long began = System.nanoTime();
        private long rounds;
        private long tables;
        private long rows;
        private long values;
        private long runs;

        synchronized void run() {
            runs++;
        }

        synchronized void table(SoakTable table) {
            long both = table.source.size() + table.target.size();
            tables++;
            rows += both;
            values += both * table.columns.size();
        }

        synchronized void round(long seed, int failures) {
            double seconds = (System.nanoTime() - began) / 1e9;
            System.out.printf(
                    "round %d  seed %d  %,d tables (%.1f a second)  %,d rows  %,d values  %,d runs  %d failures%n",
                    ++rounds, seed, tables, tables / seconds, rows, values, runs, failures);
        }
    }

    /**
     * @param arguments {@code --minutes N --seed S --rounds N}
     */
    public static void main(String[] arguments) throws Exception {
        List<String> all = List.of(arguments);
        double minutes = all.contains("--minutes") ? Double.parseDouble(all.get(all.indexOf("--minutes") + 1)) : 10;
        long seed = all.contains("--seed") ? Long.parseLong(all.get(all.indexOf("--seed") + 1)) : System.nanoTime();
        long rounds = all.contains("--rounds") ? Long.parseLong(all.get(all.indexOf("--rounds") + 1)) : Long.MAX_VALUE;
        Path folder = Files.createTempDirectory("soak");
        Soak soak = new Soak(folder);
        long end = System.nanoTime() + (long) (minutes * 60e9);
        AtomicLong next = new AtomicLong();
        int atOnce = Runtime.getRuntime().availableProcessors();
        ExecutorService workers = Executors.newFixedThreadPool(atOnce);
        List<Future<?>> work = new ArrayList<>();
        for (int i = 0; i < atOnce; i++) {
            work.add(workers.submit(() -> {
                for (long r = next.getAndIncrement();
                        r < rounds && System.nanoTime() < end;
                        r = next.getAndIncrement()) {
                    soak.round(seed + r);
                    soak.tried.round(seed + r, soak.failures.size());
                }
                return null;
            }));
        }
        for (Future<?> each : work) {
            each.get();
        }
        soak.failures.forEach(
                f -> System.out.println("FAILED " + f.lines().findFirst().orElse("")));
        System.exit(soak.failures.isEmpty() ? 0 : 1);
    }

    /** Two databases, their tables, and what belongs to them. */
    record Pair(Database source, Database target, List<SoakTable> tables) {}

    /** One round: all that it does hangs on the seed. */
    void round(long seed) throws Exception {
        Path here = Files.createDirectory(folder.resolve("s" + seed));
        try {
            Random random = new Random(seed);
            Database.Kind[] kinds = {
                Database.Kind.SQLITE,
                Database.Kind.H2,
                Database.Kind.DUCKDB,
                Database.Kind.POSTGRESQL,
                Database.Kind.MARIADB
            };
            Database.Kind from = RandomTable.pick(random, kinds);
            Database.Kind to = random.nextInt(3) == 0 ? from : RandomTable.pick(random, kinds);
            Pair pair =
                    new Pair(new Database(from, here, "one"), new Database(to, here, "two"), tables(random, from, to));
            create(pair);
            try {
                play(pair, seed, random, here);
            } finally {
                drop(pair);
            }
        } finally {
            delete(here);
        }
    }

    private static List<SoakTable> tables(Random random, Database.Kind from, Database.Kind to) {
        Set<Database.Kind> withCase = Set.of(Database.Kind.POSTGRESQL, Database.Kind.H2, Database.Kind.MARIADB);
        boolean cases = withCase.contains(from) && withCase.contains(to);
        Set<Database.Kind> schemas = Set.of(Database.Kind.POSTGRESQL, Database.Kind.H2);
        boolean two = schemas.contains(from) && schemas.contains(to) || from == to && from == Database.Kind.DUCKDB;
        List<SoakTable> tables = new ArrayList<>();
        for (int i = 0; i < TABLES; i++) {
            String name = switch (i % 8) {
                case 0 -> "tide " + i;
                case 1 -> "größe" + i;
                case 2 -> "q\"q" + i;
                case 3 -> "select" + i;
                case 4 -> cases ? "Level" + i / 8 : "level_a" + i;
                case 5 -> cases ? "level" + i / 8 : "level_b" + i;
                default -> "t" + i;
            };
            String schema = two && i % 3 == 0 ? "alt" : "";
            tables.add(new SoakTable(random, schema, name, MOST_ROWS));
            if (!schema.isEmpty() && i % 2 == 0) {
                tables.add(new SoakTable(random, "", name, MOST_ROWS));
            }
        }
        return tables;
    }

    static void create(Pair pair) throws SQLException {
        for (Database side : List.of(pair.source(), pair.target())) {
            try (Connection connection = side.connect();
                    Statement statement = connection.createStatement()) {
                connection.setAutoCommit(false);
                if (pair.tables().stream().anyMatch(t -> !t.schema.isEmpty())) {
                    statement.execute("CREATE SCHEMA " + side.quote("alt"));
                }
                for (SoakTable table : pair.tables()) {
                    table.create(side, connection, side == pair.source());
                    if (SoakJob.takes(table)) {
                        statement.execute("CREATE VIEW " + side.quote(SoakJob.view(table)) + " AS SELECT * FROM "
                                + side.quote(table.name));
                    }
                }
                connection.commit();
            }
        }
    }

    /** With {@code -Dsharptally.keep=true} databases stay, to be looked at. */
    static void drop(Pair pair) throws SQLException {
        if (Boolean.getBoolean("sharptally.keep")) {
            return;
        }
        pair.source().drop();
        pair.target().drop();
    }

    private void play(Pair pair, long seed, Random random, Path here) throws Exception {
        Tool tool = Tool.apart(here);
        List<String> stream = ways(random, "stream");
        check(pair, tool, stream, seed, ALL);
        check(pair, tool, ways(random, "auto"), seed, ALL);
        for (String method : List.of("checksum", "joined")) {
            check(pair, tool, ways(random, method), seed, ALL);
        }
        someKeys(pair, tool, seed, random);
        limited(pair, tool, seed, random);
        if (random.nextInt(4) == 0) {
            killed(pair, tool, seed, random);
        }
        ruled(pair, tool, seed, random);
        if (random.nextInt(2) == 0) {
            changed(pair, tool, seed, random);
        }
    }

    private static List<String> ways(Random random, String method) {
        List<String> ways = new ArrayList<>(List.of("--method", method));
        if (random.nextBoolean()) {
            ways.addAll(List.of("--range-rows", Integer.toString(7 + random.nextInt(200))));
        }
        if (random.nextBoolean()) {
            ways.addAll(List.of("--workers", Integer.toString(2 + random.nextInt(2))));
        }
        if (random.nextInt(3) == 0) {
            ways.add("--no-snapshot");
        }
        return ways;
    }

    static List<String> command(Pair pair, List<String> ways) {
        List<String> command = new ArrayList<>(
                List.of("compare", pair.source().address(), pair.target().address()));
        command.addAll(ways);
        return command;
    }

    /** Compares all tables in one way, and looks at each of them. */
    private void check(Pair pair, Tool tool, List<String> ways, long seed, BiPredicate<SoakTable, Object[]> wanted)
            throws Exception {
        Tool.Result result = tool.run(command(pair, ways).toArray(new String[0]));
        tried.run();
        look(pair, tool, ways, seed, wanted, result, pair.tables());
    }

    private void look(
            Pair pair,
            Tool tool,
            List<String> ways,
            long seed,
            BiPredicate<SoakTable, Object[]> wanted,
            Tool.Result result,
            List<SoakTable> of)
            throws Exception {
        String story = "seed " + seed + " " + pair.source().kind() + " "
                + pair.target().kind() + " " + ways;
        Path run = result.code() == 2 && !result.all().contains("run ") ? null : tool.latestRun();
        if (run == null
                || result.code() == 70
                || result.code() == 3 && !result.all().contains("not finished")) {
            fail(story + "\n" + result.all());
            return;
        }
        JsonNode summary = summaryOf(run);
        int expectedCode = 0;
        for (SoakTable table : of) {
            String why = SoakFindings.problem(table, summary, run, wanted);
            tried.table(table);
            boolean differs =
                    !table.expected(wanted).isEmpty() || !table.onlyInSource.isEmpty() || !table.onlyInTarget.isEmpty();
            expectedCode = Math.max(expectedCode, differs ? 1 : 0);
            if (!why.isEmpty()) {
                fail(story + "\n" + why + "\n" + smaller(pair, table, ways, wanted));
            }
        }
        boolean refused = result.all().contains("can't compare by method");
        if (!refused && result.code() != expectedCode) {
            fail(story + "\nexit code " + result.code() + " instead of " + expectedCode + "\n" + result.all());
        }
    }

    /** A part of the key of one table. */
    private void someKeys(Pair pair, Tool tool, long seed, Random random) throws Exception {
        List<SoakTable> whole = pair.tables().stream()
                .filter(t -> t.schema.isEmpty()
                        && t.key.size() == 1
                        && t.types.get(t.key.get(0)) == SoakTable.Type.INT
                        && t.source.size() > 1
                        && !t.name.contains("#"))
                .toList();
        if (whole.isEmpty()) {
            return;
        }
        SoakTable table = whole.get(random.nextInt(whole.size()));
        List<Long> keys = table.source.stream()
                .map(r -> (Long) r[table.key.get(0)])
                .sorted()
                .toList();
        long least = keys.get(keys.size() / 4);
        long end = keys.get(keys.size() * 3 / 4);
        BiPredicate<SoakTable, Object[]> wanted = (t, row) -> {
            long k = (Long) row[t.key.get(0)];
            return k >= least && k < end;
        };
        boolean none =
                Stream.concat(table.source.stream(), table.target.stream()).noneMatch(r -> wanted.test(table, r));
        List<String> command = new ArrayList<>(List.of(
                "compare",
                pair.source().address() + "#" + table.name,
                pair.target().address() + "#" + table.name,
                "--key-range",
                least + ".." + end));
        if (random.nextBoolean()) {
            command.addAll(List.of("--workers", "3", "--range-rows", "9"));
        }
        Tool.Result result = tool.run(command.toArray(new String[0]));
        tried.run();
        if (none) {
            if (result.code() != 5) {
                fail("seed " + seed + " no row was left, and exit code " + result.code() + "\n" + result.all());
            }
            return;
        }
        look(pair, tool, command, seed, wanted, result, List.of(table));
        if (!result.all().contains("not all rows were asked for: only keys " + least + ".." + end)) {
            fail("seed " + seed + " the verdict does not tell the keys\n" + result.all());
        }
    }

    /** Many tables by a job file: rules, conditions, queries. */
    private void ruled(Pair pair, Tool tool, long seed, Random random) throws Exception {
        SoakJob job = new SoakJob(pair, random);
        Files.writeString(tool.folder().resolve("job.yaml"), job.text());
        Tool.Result result = tool.run("compare", "--job", "job.yaml");
        tried.run();
        if (result.code() > 1) {
            fail("seed " + seed + " by a job file\n" + job.text() + result.all());
            return;
        }
        Path run = tool.latestRun();
        JsonNode summary = summaryOf(run);
        for (SoakJob.Match match : job.matches) {
            SoakTable table = match.table();
            tried.table(table);
            String why = SoakFindings.problem(
                    table, match.name(), summary, run, table.expected(match.wanted(), match::same));
            if (!why.isEmpty()) {
                fail("seed " + seed + " by a job file " + pair.source().kind() + " "
                        + pair.target().kind() + "\n" + why + "\n" + job.text() + table.story());
            }
        }
    }

    private String smaller(Pair pair, SoakTable table, List<String> ways, BiPredicate<SoakTable, Object[]> wanted) {
        boolean worthIt = failures.size() <= MOST_MADE_SMALLER && !ways.contains("compare");
        return worthIt
                ? new SoakSmaller(folder.resolve("smaller" + failures.size())).smaller(pair, table, ways, wanted)
                : "";
    }

    /** What a run says of itself. */
    static JsonNode summaryOf(Path run) throws IOException {
        return JSON.readTree(run.resolve("run.json").toFile());
    }

    /** A run that ends at so many findings, and is gone on with by several workers until it has them all. */
    private void limited(Pair pair, Tool tool, long seed, Random random) throws Exception {
        String limit = Integer.toString(1 + random.nextInt(60));
        Tool.Result result =
                tool.run(command(pair, List.of("--stop-after-findings", limit, "--range-rows", "15", "--workers", "2"))
                        .toArray(new String[0]));
        tried.run();
        if (result.code() != 5) {
            return;
        }
        String run = tool.latestRun().toString();
        result = tool.run("compare", "--resume", run, "--workers", "3");
        tried.run();
        if (result.code() > 1) {
            fail("seed " + seed + " limited to " + limit + " findings, can't be resumed\n" + result.all());
            return;
        }
        look(pair, tool, List.of("compare", "limited"), seed, ALL, result, pair.tables());
    }

    /** A run that is killed at any moment and gone on with. */
    private void killed(Pair pair, Tool tool, long seed, Random random) throws Exception {
        List<String> command =
                new ArrayList<>(List.of(Tool.home().resolve("bin/sharp-tally").toString()));
        command.addAll(command(pair, List.of("--runs", "killed", "--range-rows", "20", "--pace", "4000")));
        Process process = new ProcessBuilder(command)
                .directory(tool.folder().toFile())
                .redirectErrorStream(true)
                .redirectOutput(tool.folder().resolve("log").toFile())
                .start();
        process.waitFor(1_500 + random.nextInt(2_500), TimeUnit.MILLISECONDS);
        process.destroyForcibly().waitFor();
        Path runsFolder = tool.folder().resolve("killed");
        if (!Files.isDirectory(runsFolder)) {
            return;
        }
        try (Stream<Path> found = Files.list(runsFolder)) {
            List<Path> folders =
                    found.filter(f -> Files.exists(f.resolve("run.json"))).toList();
            if (folders.isEmpty()) {
                return;
            }
            Path run = folders.get(0);
            Tool.Result result = tool.run("compare", "--resume", run.toString(), "--runs", "killed");
            tried.run();
            if (result.code() == 2 && result.all().contains("complete already")) {
                result = new Tool.Result(1, "", "");
            } else if (result.code() > 1) {
                fail("seed " + seed + " can't be resumed\n" + result.all());
                return;
            }
            JsonNode summary = summaryOf(run);
            for (SoakTable table : pair.tables()) {
                String why = SoakFindings.problem(table, summary, run, ALL);
                tried.table(table);
                if (!why.isEmpty()) {
                    fail("seed " + seed + " killed and gone on with: " + why + "\n" + table.story());
                }
            }
        }
    }

    /** The target is made like the source; then nothing differs but columns of one side. */
    private void changed(Pair pair, Tool tool, long seed, Random random) throws Exception {
        Tool.Result compared = tool.run(command(pair, List.of()).toArray(new String[0]));
        tried.run();
        if (compared.code() > 1) {
            fail("seed " + seed + " before changes\n" + compared.all());
            return;
        }
        Path run = tool.latestRun();
        Tool.Result written = tool.run("script", "--style", random.nextBoolean() ? "batch" : "row");
        boolean byScript = random.nextBoolean();
        Tool.Result applied = byScript
                ? pair.target().runScript(run.resolve("script.sql"))
                : tool.run("apply", run.toString(), "--yes");
        if (written.code() > 0 || applied.code() > 1 || byScript && applied.code() > 0) {
            fail("seed " + seed + " " + pair.source().kind() + " "
                    + pair.target().kind() + " apply\n" + applied.all());
            return;
        }
        Map<SoakTable, List<Object[]>> before = new java.util.HashMap<>();
        pair.tables().forEach(t -> before.put(t, t.target));
        pair.tables().forEach(t -> t.target = new ArrayList<>(t.source));
        check(pair, tool, List.of("--method", "stream"), seed, ALL);
        if (byScript) {
            Tool.Result undone = pair.target().runScript(run.resolve("undo.sql"));
            if (undone.code() != 0) {
                fail("seed " + seed + " undo\n" + undone.all());
            }
            before.forEach((table, rows) -> table.target = rows);
            check(pair, tool, List.of("--method", "stream"), seed, ALL);
        }
    }

    static void delete(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.deleteIfExists(path);
            }
        }
    }
}
