package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TimeZone;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;
import sharptally.api.Applied;
import sharptally.api.ComparisonResult;
import sharptally.api.RowDifference;
import sharptally.api.SharpTally;
import sharptally.api.SharpTallyException;
import sharptally.api.Verdict;

/** What programs call, over their own connections: it finds what the commands find, and leaves everything as it was. */
class ApiTest {
    @TempDir
    Path folder;

    @TempDir
    Path temporary;

    private SharpTally tally() {
        return SharpTally.builder().temporaryFolder(temporary).build();
    }

    private static sharptally.api.Database lent(WatchedPool pool) {
        return sharptally.api.Database.of("lent", pool);
    }

    /** Both sides have 500 rows; one is changed, one is missing, one is extra. */
    private static void fill(Database source, Database target) throws Exception {
        for (Database side : List.of(source, target)) {
            side.execute(
                    "CREATE TABLE gauge (id INT PRIMARY KEY, level DECIMAL(9,3), seen TIMESTAMP NULL DEFAULT NULL)");
            List<String> rows = new ArrayList<>();
            for (int id = 1; id <= 500; id++) {
                rows.add("(" + id + ", " + id + ".125, '2026-03-08 02:30:00')");
            }
            side.execute("INSERT INTO gauge VALUES " + String.join(", ", rows));
        }
        target.execute(
                "UPDATE gauge SET level = 7 WHERE id = 250",
                "DELETE FROM gauge WHERE id = 400",
                "INSERT INTO gauge VALUES (999, 1.5, '2026-03-08 02:30:00')");
    }

    @ParameterizedTest
    @EnumSource(names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void borrowedConnectionsComeBackAsTheyWere(Kind kind) throws Exception {
        Database one = new Database(kind, folder, "one");
        Database two = new Database(kind, folder, "two");
        fill(one, two);
        try (WatchedPool source = new WatchedPool(one);
                WatchedPool target = new WatchedPool(two)) {
            try (ComparisonResult result =
                    tally().compare(lent(source), lent(target)).workers(2).run()) {
                assertThat(result.verdict()).as(result.text()).isEqualTo(Verdict.DIFFERENT);
                assertThat(result.tables()).singleElement().satisfies(table -> {
                    assertThat(table.rows().same()).isEqualTo(498);
                    assertThat(List.of(
                                    table.rows().changed(),
                                    table.rows().missing(),
                                    table.rows().extra()))
                            .containsExactly(1L, 1L, 1L);
                });
                assertThat(tally().totals(lent(source), lent(target)).run())
                        .anySatisfy(figure ->
                                assertThat(figure.figure() + figure.same()).isEqualTo("sumfalse"));
                assertThat(source.complaints()).isEmpty();

                // Somebody else changes a row that was compared: nothing is done.
                two.execute("UPDATE gauge SET level = 8 WHERE id = 250");
                assertThatThrownBy(result::apply)
                        .isInstanceOfSatisfying(
                                SharpTallyException.class,
                                e -> assertThat(e.kind())
                                        .as(e.getMessage())
                                        .isEqualTo(SharpTallyException.Kind.REFUSED));
                assertThat(target.complaints()).isEmpty();
                two.execute("UPDATE gauge SET level = 7 WHERE id = 250");

                Applied tried = result.tryChanges();
                assertThat(tried.rows() + " " + tried.lasting()).isEqualTo("3 false");
                assertThat(two.values("SELECT COUNT(*) FROM gauge WHERE id = 999"))
                        .containsExactly("1");
                assertThat(result.apply().rows()).isEqualTo(3);
                assertThat(result.recheck().left()).isZero();
                assertThat(result.verdict()).isEqualTo(Verdict.SAME);
            }
            assertThat(two.values("SELECT level FROM gauge ORDER BY id"))
                    .isEqualTo(one.values("SELECT level FROM gauge ORDER BY id"));
            assertThat(source.complaints()).isEmpty();
            assertThat(target.complaints()).isEmpty();
            assertThat(source.most()).isLessThanOrEqualTo(3);
        }
        try (Stream<Path> left = Files.list(temporary)) {
            assertThat(left).isEmpty();
        }
    }

    @ParameterizedTest
    @CsvSource({"POSTGRESQL, MARIADB", "SQLITE, H2", "DUCKDB, POSTGRESQL", "H2, SQLITE", "MYSQL, MARIADB"})
    void findsWhatTheCommandLineFinds(Kind from, Kind to) throws Exception {
        long seed = Seed.next();
        System.out.println("seed " + seed + " " + from + " " + to);
        RandomTable table = new RandomTable(new Random(seed), from, to);
        Database one = new Database(from, folder, "one");
        Database two = new Database(to, folder, "two");
        table.create(one, table.source);
        table.create(two, table.target);
        List<String> command = new ArrayList<>(List.of("compare", one.address(), two.address()));
        String[] key = table.declaredKey
                ? new String[0]
                : table.key.stream().map(table.columns::get).toArray(String[]::new);
        Arrays.stream(key).forEach(column -> command.addAll(List.of("--key", column)));
        Tool.Result compared = new Tool(folder).run(command.toArray(new String[0]));
        TimeZone zone = TimeZone.getDefault();
        Locale locale = Locale.getDefault();
        TimeZone.setDefault(TimeZone.getTimeZone("America/St_Johns"));
        Locale.setDefault(Locale.forLanguageTag("ar-EG"));
        try (WatchedPool source = new WatchedPool(one);
                WatchedPool target = new WatchedPool(two);
                ComparisonResult byCommand = tally().open(new Tool(folder).latestRun(), lent(source), lent(target));
                ComparisonResult result =
                        tally().compare(lent(source), lent(target)).key(key).run()) {
            assertThat(result.verdict())
                    .as("seed " + seed + " " + table + "\n" + compared.all() + result.text())
                    .isEqualTo(compared.code() == 0 ? Verdict.SAME : Verdict.DIFFERENT);
            assertThat(told(result)).as("seed " + seed + " " + table).isEqualTo(told(byCommand));
            try (Stream<RowDifference> all = result.differences()) {
                assertThat(result.differenceCount())
                        .isEqualTo(all.mapToLong(RowDifference::times).sum());
            }
        } finally {
            TimeZone.setDefault(zone);
            Locale.setDefault(locale);
        }
    }

    private static List<String> told(ComparisonResult result) {
        try (Stream<RowDifference> all = result.differences()) {
            return all.map(row -> row.kind() + " " + plain(row.key()) + plain(row.sourceRow()) + plain(row.targetRow())
                            + row.times())
                    .toList();
        }
    }

    private static String plain(Map<String, Object> row) {
        Map<String, String> texts = new TreeMap<>();
        row.forEach((name, value) ->
                texts.put(name, value instanceof byte[] bytes ? Arrays.toString(bytes) : String.valueOf(value)));
        return texts.toString();
    }

    @Test
    void jobsRunBesideEachOtherInOneProcess() throws Exception {
        ExecutorService pool = Executors.newFixedThreadPool(4);
        List<Future<String>> verdicts = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            Path here = Files.createDirectory(folder.resolve("job" + i));
            Database one = new Database(i % 2 == 0 ? Kind.SQLITE : Kind.H2, here, "one");
            Database two = new Database(i % 3 == 0 ? Kind.DUCKDB : Kind.SQLITE, here, "two");
            fill(one, two);
            boolean narrowed = i % 4 == 0;
            Callable<String> job = () -> {
                try (WatchedPool source = new WatchedPool(one);
                        WatchedPool target = new WatchedPool(two);
                        ComparisonResult result = narrowed
                                ? tally().compare(lent(source), lent(target))
                                        .keyRange("..200")
                                        .run()
                                : tally().compare(lent(source), lent(target)).run()) {
                    return result.verdict() + " " + result.differenceCount() + " " + narrowed;
                }
            };
            verdicts.add(pool.submit(job));
        }
        for (Future<String> verdict : verdicts) {
            assertThat(verdict.get()).isIn("DIFFERENT 3 false", "SAME 0 true");
        }
        pool.shutdown();
    }

    @Test
    void interruptedJobProvesNothingAndLeavesNothing() throws Exception {
        Database one = new Database(Kind.SQLITE, folder, "one");
        Database two = new Database(Kind.H2, folder, "two");
        fill(one, two);
        try (WatchedPool source = new WatchedPool(one);
                WatchedPool target = new WatchedPool(two)) {
            Verdict[] verdict = {Verdict.SAME};
            Thread job = new Thread(() -> {
                try (ComparisonResult result =
                        tally().compare(lent(source), lent(target)).pace(100).run()) {
                    verdict[0] = result.verdict();
                }
            });
            job.start();
            Thread.sleep(500);
            job.interrupt();
            job.join(10_000);
            assertThat(job.isAlive()).isFalse();
            assertThat(verdict[0]).isEqualTo(Verdict.INCOMPLETE);
            assertThat(source.complaints()).isEmpty();
            assertThat(target.complaints()).isEmpty();
        }
        try (Stream<Path> left = Files.list(temporary)) {
            assertThat(left).isEmpty();
        }
    }

    @Test
    void failuresAreOneExceptionThatSaysItsKind() throws Exception {
        Database one = new Database(Kind.SQLITE, folder, "one").execute("CREATE TABLE gauge (id INT, level REAL)");
        sharptally.api.Database there = sharptally.api.Database.at("sqlite:" + folder.resolve("one.db"));
        sharptally.api.Database gone = sharptally.api.Database.at("sqlite:" + folder.resolve("no.db"));
        fails(
                SharpTallyException.Kind.CONNECTION,
                () -> tally().compare(there, gone).run());
        fails(SharpTallyException.Kind.USAGE, () -> sharptally.api.Database.at("nodb:x"), there);
        fails(
                SharpTallyException.Kind.USAGE,
                () -> tally().compare(there, there).key("no").run());
        fails(
                SharpTallyException.Kind.USAGE,
                () -> tally().compare(there, there).sample(2));
        fails(SharpTallyException.Kind.FILE, () -> tally().compare(folder.resolve("no.yaml")));
        fails(
                SharpTallyException.Kind.USAGE,
                () -> tally().compare(there.table("no"), there.table("no")).run());
        assertThat(one.values("SELECT COUNT(*) FROM gauge")).containsExactly("0");
        try (Stream<Path> left = Files.list(temporary)) {
            assertThat(left).isEmpty();
        }
    }

    private void fails(
            SharpTallyException.Kind kind, Callable<sharptally.api.Database> made, sharptally.api.Database other) {
        fails(kind, () -> tally().compare(made.call(), other).run());
    }

    private static void fails(SharpTallyException.Kind kind, Callable<?> work) {
        assertThatThrownBy(work::call)
                .isInstanceOfSatisfying(
                        SharpTallyException.class,
                        e -> assertThat(e.kind()).as(e.getMessage()).isEqualTo(kind));
    }
}
