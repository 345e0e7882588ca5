package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.acceptance.Database.Kind;

/** What a dry run tells is what happens: where the target refuses changes, at whatever moment, both end alike. */
@InTurn(1)
class DryRunTest {
    private static final List<String> COLUMNS = List.of("id", "station", "name", "level_m");

    @TempDir
    Path folder;

    /**
     * Why a target refuses.
     *
     * @param target what stands in its table besides the columns
     * @param before statements against it
     * @param after statements against it once it was compared
     * @param told what both tell of it
     */
    private record Refusal(String name, String target, List<String> before, List<String> after, String told) {
        static Refusal declared(String name, String target, String told, String... before) {
            return new Refusal(name, target, List.of(before), List.of(), told);
        }

        @Override
        public String toString() {
            return name;
        }
    }

    static Stream<Arguments> refusals() {
        return Stream.of(Kind.POSTGRESQL, Kind.MARIADB, Kind.SQLITE, Kind.H2, Kind.DUCKDB)
                .flatMap(kind -> refusals(kind).stream().map(refusal -> Arguments.of(kind, refusal)));
    }

    private static List<Refusal> refusals(Kind kind) {
        List<Refusal> all = new ArrayList<>(List.of(
                Refusal.declared("nothing", "", ""),
                Refusal.declared("a name that another row has", ", UNIQUE (name)", ""),
                Refusal.declared("a level out of bounds", ", CHECK (level_m < 500)", ""),
                new Refusal(
                        "a key taken since",
                        "",
                        List.of(),
                        List.of("INSERT INTO gauge VALUES (577, 1, 'new', 0)"),
                        "577"),
                new Refusal(
                        "a row changed since",
                        "",
                        List.of(),
                        List.of("UPDATE gauge SET name = 'new' WHERE id = 100"),
                        "100"),
                new Refusal("a row gone since", "", List.of(), List.of("DELETE FROM gauge WHERE id = 1000"), "1000")));
        String reference = ", FOREIGN KEY (station) REFERENCES station (id)";
        String station = "INSERT INTO station VALUES (1)";
        if (kind != Kind.SQLITE) {
            // That one checks references only for connections that ask it to.
            all.add(Refusal.declared("no such station", reference, "", station));
        }
        if (kind == Kind.POSTGRESQL) {
            all.add(Refusal.declared(
                    "no such station, at the end", reference + " DEFERRABLE INITIALLY DEFERRED", "", station));
            all.add(Refusal.declared(
                    "a name that another row has, at the end", ", UNIQUE (name) DEFERRABLE INITIALLY DEFERRED", ""));
            String raise = "CREATE FUNCTION stop() RETURNS trigger LANGUAGE plpgsql AS"
                    + " $$ BEGIN IF NEW.level_m > 500 THEN RAISE 'no such tide'; END IF; RETURN NEW; END $$";
            all.add(Refusal.declared(
                    "a trigger",
                    "",
                    "no such tide",
                    raise,
                    "CREATE TRIGGER stop BEFORE INSERT ON gauge FOR EACH ROW EXECUTE FUNCTION stop()"));
            all.add(Refusal.declared(
                    "a trigger, at the end",
                    "",
                    "no such tide",
                    raise,
                    "CREATE CONSTRAINT TRIGGER stop AFTER INSERT ON gauge DEFERRABLE INITIALLY DEFERRED"
                            + " FOR EACH ROW EXECUTE FUNCTION stop()"));
        }
        return all;
    }

    private static String rows(IntStream ids, int changed) {
        return "INSERT INTO gauge VALUES "
                + String.join(
                        ", ",
                        ids.mapToObj(i -> "(" + i + ", " + (i == 577 ? 2 : 1) + ", '" + (i == 577 ? "n5" : "n" + i)
                                        + "', " + (i % 1000 + (i % changed == 0 ? 0.5 : 0)) + ")")
                                .toList());
    }

    @ParameterizedTest
    @MethodSource("refusals")
    void bothEndAlike(Kind kind, Refusal refusal) throws Exception {
        Database source = new Database(kind, folder, "src");
        Database target = new Database(kind, folder, "tgt");
        String columns =
                "CREATE TABLE gauge (id INTEGER PRIMARY KEY, station INTEGER, name VARCHAR(20), level_m NUMERIC(8, 1)";
        source.execute(columns + ")", rows(IntStream.range(1, 801), 100));
        target.execute("CREATE TABLE station (id INTEGER PRIMARY KEY)", columns + refusal.target() + ")");
        target.execute(refusal.before().toArray(new String[0]));
        target.execute(rows(IntStream.concat(IntStream.range(1, 301), IntStream.range(1000, 1400)), 1_000_000));
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address() + "#gauge", target.address())
                        .code())
                .isEqualTo(1);
        target.execute(refusal.after().toArray(new String[0]));
        List<String> before = target.rows("gauge", COLUMNS);
        String run = tool.latestRun().toString();
        Tool.Result dry = tool.run("apply", run, "--yes", "--dry-run");
        assertThat(target.rows("gauge", COLUMNS)).isEqualTo(before);
        Tool.Result done = tool.run("apply", run, "--yes");
        if (refusal.name().equals("nothing")) {
            assertThat(List.of(dry.code(), done.code()))
                    .as(dry.all() + done.all())
                    .containsExactly(1, 0);
            assertThat(target.rows("gauge", COLUMNS)).isEqualTo(source.rows("gauge", COLUMNS));
            return;
        }
        assertThat(List.of(dry.code(), done.code())).as(dry.all() + done.all()).containsOnly(4);
        assertThat(target.rows("gauge", COLUMNS)).isEqualTo(before);
        assertThat(failure(done))
                .contains(refusal.told(), "so nothing was done")
                .isEqualTo(failure(dry));
    }

    private static String failure(Tool.Result result) {
        return result.err()
                .lines()
                .filter(line -> line.startsWith("sharp-tally: ") && !line.contains("warning"))
                .map(line -> line.replaceAll("conn=\\d+", "conn"))
                .findFirst()
                .orElse(result.all());
    }
}
