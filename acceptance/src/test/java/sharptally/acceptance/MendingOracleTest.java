package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.acceptance.Database.Kind;

/**
 * Random edits to stations and their readings, which refer to each other in a circle and to themselves, hold values
 * unique alone and together, and have odd names. Whatever the edits and the style, a script and apply make both sides
 * equal, the undo script restores what was, and what others change meanwhile stays.
 */
@InTurn(0)
class MendingOracleTest {
    private static final String REMARK = "re \"mark\" `é;";
    private static final List<String> READING = List.of("id", "station", "prev", "slot", "level", REMARK);
    private static final List<String> STATION = List.of("id", "name", "head");

    @TempDir
    Path folder;

    private record Reading(Integer station, Integer prev, Integer slot, int level, String remark) {
        Reading withPrev(Integer other) {
            return new Reading(station, other, slot, level, remark);
        }

        Reading withSlot(Integer other) {
            return new Reading(station, prev, other, level, remark);
        }
    }

    private record Station(String name, Integer head) {}

    /** Both tables in memory. */
    private record Model(TreeMap<Integer, Station> stations, TreeMap<Integer, Reading> readings) {
        Model copy() {
            return new Model(new TreeMap<>(stations), new TreeMap<>(readings));
        }
    }

    private static <T> T any(List<T> of, Random random) {
        return of.get(random.nextInt(of.size()));
    }

    private static String remark(Random random) {
        return any(List.of("calm", "it's; odd", "", "\\ back", "línea\nnueva", "-- no", "NULL"), random);
    }

    private static Integer maybe(TreeMap<Integer, ?> of, Random random) {
        return random.nextInt(3) == 0 || of.isEmpty() ? null : any(List.copyOf(of.keySet()), random);
    }

    private static Model start(Random random) {
        Model model = new Model(new TreeMap<>(), new TreeMap<>());
        for (int id = 1; id <= 8; id++) {
            model.stations.put(id, new Station("gauge " + id, null));
        }
        for (int id = 1; id <= 40; id++) {
            addReading(model, id, random);
        }
        model.stations.replaceAll((id, s) -> new Station(s.name, maybe(model.readings, random)));
        model.readings.replaceAll((id, r) -> r.withPrev(maybe(model.readings, random)));
        return model;
    }

    private static void addReading(Model model, int id, Random random) {
        int station = any(List.copyOf(model.stations.keySet()), random);
        int slot = model.readings.values().stream()
                        .filter(r -> r.station == station && r.slot != null)
                        .mapToInt(r -> r.slot)
                        .max()
                        .orElse(0)
                + 1;
        model.readings.put(
                id, new Reading(station, maybe(model.readings, random), slot, random.nextInt(9000), remark(random)));
    }

    private static void edit(Model model, Random random) {
        List<Integer> readings = new ArrayList<>(model.readings.keySet());
        List<Integer> stations = new ArrayList<>(model.stations.keySet());
        Collections.shuffle(readings, random);
        Collections.shuffle(stations, random);
        for (int id : readings.subList(0, random.nextInt(8))) {
            model.readings.remove(id);
            model.readings.replaceAll((i, r) -> r.prev != null && r.prev == id ? r.withPrev(null) : r);
            model.stations.replaceAll((i, s) -> s.head != null && s.head == id ? new Station(s.name, null) : s);
        }
        for (int id : stations.subList(0, 3)) {
            if (model.readings.values().stream().noneMatch(r -> r.station == id) && random.nextBoolean()) {
                model.stations.remove(id);
            }
        }
        model.stations.put(100 + random.nextInt(50), new Station("new gauge", null));
        for (int i = random.nextInt(8); i > 0; i--) {
            addReading(model, 200 + random.nextInt(99), random);
        }
        for (int id : List.copyOf(model.readings.keySet())) {
            if (random.nextInt(5) == 0) {
                Reading r = model.readings.get(id);
                model.readings.put(
                        id,
                        new Reading(
                                r.station,
                                maybe(model.readings, random),
                                r.slot,
                                random.nextInt(9000),
                                remark(random)));
            }
        }
        turnNames(model, random);
        turnSlots(model, random);
        model.stations.replaceAll(
                (id, s) -> random.nextInt(3) == 0 ? new Station(s.name, maybe(model.readings, random)) : s);
    }

    /** Some stations get each other's names, which must be unique. */
    private static void turnNames(Model model, Random random) {
        List<Integer> ids = new ArrayList<>(model.stations.keySet());
        Collections.shuffle(ids, random);
        List<Integer> some = ids.subList(0, 2 + random.nextInt(2));
        List<String> names =
                some.stream().map(id -> model.stations.get(id).name).toList();
        for (int i = 0; i < some.size(); i++) {
            Station station = model.stations.get(some.get(i));
            model.stations.put(some.get(i), new Station(names.get((i + 1) % names.size()), station.head));
        }
    }

    /** Readings of one station get each other's slots, which must be unique within it. */
    private static void turnSlots(Model model, Random random) {
        int station = any(List.copyOf(model.stations.keySet()), random);
        List<Integer> ids = model.readings.entrySet().stream()
                .filter(e -> e.getValue().station == station)
                .map(Map.Entry::getKey)
                .toList();
        List<Integer> slots =
                ids.stream().map(id -> model.readings.get(id).slot).toList();
        for (int i = 0; i < ids.size(); i++) {
            int at = (i + 1) % slots.size();
            model.readings.computeIfPresent(ids.get(i), (id, r) -> r.withSlot(slots.get(at)));
        }
    }

    private static void fill(Database database, Model model) throws Exception {
        boolean linked = database.kind() != Kind.DUCKDB;
        String remark = database.quote(REMARK);
        String own = linked ? " REFERENCES station (id)" : "";
        String self = linked ? " REFERENCES reading (id)" : "";
        String inline = database.kind() == Kind.SQLITE ? self : "";
        String unique = linked ? " UNIQUE" : "";
        List<String> sql = new ArrayList<>(List.of(
                "CREATE TABLE station (id INTEGER PRIMARY KEY, name VARCHAR(30) NOT NULL" + unique + ", head INTEGER"
                        + inline + ")",
                "CREATE TABLE reading (id INTEGER PRIMARY KEY, station INTEGER NOT NULL" + own + ", prev INTEGER"
                        + self + ", slot INTEGER NOT NULL, level DECIMAL(8,3), " + remark + " VARCHAR(40)"
                        + (linked ? ", UNIQUE (station, slot)" : "")
                        + (database.kind().like() == Kind.MARIADB
                                ? ", FOREIGN KEY (station) REFERENCES station (id), FOREIGN KEY (prev) REFERENCES reading (id)"
                                : "")
                        + ")"));
        model.stations.forEach((id, s) -> sql.add("INSERT INTO station VALUES (" + id + ", '" + s.name + "', NULL)"));
        model.readings.forEach((id, r) -> sql.add("INSERT INTO reading VALUES (" + id + ", " + r.station + ", NULL, "
                + r.slot + ", " + r.level + ".125, " + text(database, r.remark) + ")"));
        model.stations.forEach((id, s) -> sql.add("UPDATE station SET head = " + s.head + " WHERE id = " + id));
        model.readings.forEach((id, r) -> sql.add("UPDATE reading SET prev = " + r.prev + " WHERE id = " + id));
        if (linked && database.kind() != Kind.SQLITE) {
            sql.add("ALTER TABLE station ADD CONSTRAINT head_fk FOREIGN KEY (head) REFERENCES reading (id)");
        }
        database.execute(sql.toArray(String[]::new));
    }

    private static String text(Database database, String text) {
        String safe = database.kind().like() == Kind.MARIADB ? text.replace("\\", "\\\\") : text;
        return "'" + safe.replace("'", "''") + "'";
    }

    private static List<String> rows(Database database) throws Exception {
        return rows(database, "");
    }

    private static List<String> rows(Database database, String end) throws Exception {
        List<String> rows = new ArrayList<>();
        for (List<String> columns : List.of(STATION, READING)) {
            String table = columns == STATION ? "station" : "reading";
            boolean upper = database.kind() == Kind.H2;
            rows.addAll(database.exactRows(
                    (upper ? table.toUpperCase(Locale.ROOT) : table) + end,
                    columns.stream()
                            .map(c -> upper && !c.equals(REMARK) ? c.toUpperCase(Locale.ROOT) : c)
                            .toList()));
        }
        return rows;
    }

    @ParameterizedTest
    @EnumSource(value = Kind.class, names = "POSTGRESQL_13", mode = EnumSource.Mode.EXCLUDE)
    void everyStyleAndApplyMendAndUndo(Kind kind) throws Exception {
        Random random = new Random();
        long seed = random.nextLong();
        random.setSeed(seed);
        System.out.println("seed " + seed + " " + kind);
        Tool tool = new Tool(folder);
        for (int round = 0; round < 2; round++) {
            Model old = start(random);
            Model now = old.copy();
            edit(now, random);
            Database source = new Database(kind, folder, "src" + round);
            Database target = new Database(kind, folder, "tgt" + round);
            fill(source, now);
            fill(target, old);
            List<String> before = rows(target);
            List<String> wanted = rows(source);
            String told = "seed " + seed + " " + kind + " round " + round;
            Tool.Result compared = tool.run("compare", source.address(), target.address());
            assertThat(compared.code()).as(told + compared.all()).isEqualTo(1);
            for (String style : List.of("row", "batch", "merge")) {
                String file = style + ".sql";
                Tool.Result written =
                        tool.run("script", "--style", style, "--out", file, "--old-values", "--backup", "was_" + style);
                assertThat(written.code()).as(told + written.all()).isZero();
                Tool.Result ran = target.runScript(folder.resolve(file));
                assertThat(ran.code()).as(told + style + ran.all()).isZero();
                assertThat(rows(target)).as(told + style).isEqualTo(wanted);
                assertAlreadyDone(target, file, wanted, told + style);
                Tool.Result undone = target.runScript(folder.resolve(style + ".undo.sql"));
                assertThat(undone.code()).as(told + style + undone.all()).isZero();
                assertThat(rows(target)).as(told + style + " undone").isEqualTo(before);
                assertAlreadyDone(target, style + ".undo.sql", before, told + style + " undone");
                assertThat(before).containsAll(rows(target, "_tally_was_" + style));
            }
            theirsIsNeverOverwritten(tool, target, old, now, told);
            assertThat(rows(target)).as(told).isEqualTo(before);
            Tool.Result applied = tool.run("apply", "--yes");
            assertThat(applied.code()).as(told + applied.all()).isZero();
            assertThat(rows(target)).as(told).isEqualTo(wanted);
        }
    }

    private void assertAlreadyDone(Database target, String script, List<String> rows, String told) throws Exception {
        Tool.Result again = target.runScript(folder.resolve(script));
        assertThat(again.code()).as(told + again.all()).isZero();
        if (target.kind() != Kind.H2) {
            assertThat(again.all()).as(told).contains("already done").doesNotContain("made and committed");
        }
        assertThat(rows(target)).as(told).isEqualTo(rows);
    }

    /** A row that is to be changed is changed by somebody else before the scripts and apply come. */
    private void theirsIsNeverOverwritten(Tool tool, Database target, Model old, Model now, String told)
            throws Exception {
        int id = old.readings.keySet().stream()
                .filter(i -> now.readings.containsKey(i) && now.readings.get(i).level != old.readings.get(i).level)
                .findFirst()
                .orElse(0);
        if (id == 0) {
            return;
        }
        target.execute("UPDATE reading SET level = 77.5 WHERE id = " + id);
        List<String> theirs = rows(target);
        for (String style : List.of("row", "batch", "merge")) {
            assertThat(target.runScript(folder.resolve(style + ".sql")).code())
                    .as(told + style)
                    .isNotZero();
            assertThat(rows(target)).as(told + style).isEqualTo(theirs);
        }
        Tool.Result refused = tool.run("apply", "--yes");
        assertThat(refused.code()).as(told + refused.all()).isEqualTo(4);
        assertThat(refused.err())
                .contains("a row had changed since it was compared")
                .containsIgnoringCase("[id " + id);
        assertThat(rows(target)).as(told).isEqualTo(theirs);
        target.execute("UPDATE reading SET level = " + old.readings.get(id).level + ".125 WHERE id = " + id);
    }

    /** The connection breaks after every some bytes of the server's answers: all is done, or nothing. */
    @Test
    void aBreakAtAnyMomentLeavesAllOrNothing() throws Exception {
        Random random = new Random();
        long seed = random.nextLong();
        random.setSeed(seed);
        System.out.println("seed " + seed + " breaks");
        Tool tool = new Tool(folder);
        Model old = start(random);
        Model now = old.copy();
        edit(now, random);
        Database source = new Database(Kind.POSTGRESQL, folder, "src");
        Database target = new Database(Kind.POSTGRESQL, folder, "tgt");
        fill(source, now);
        fill(target, old);
        List<String> before = rows(target);
        List<String> wanted = rows(source);
        assertThat(tool.run("compare", source.address(), target.address()).code())
                .isEqualTo(1);
        assertThat(tool.run("script", "--style", "merge", "--out", "mend.sql").code())
                .isZero();
        int port = Integer.parseInt(target.address().replaceAll(".*:(\\d+)/.*", "$1"));
        for (int bytes = 400, done = 0; bytes < 40_000 && done < 2; bytes += 150 + bytes / 4) {
            try (CuttingProxy proxy = new CuttingProxy(port, bytes, 1)) {
                String through = target.address().replaceAll(":\\d+/", ":" + proxy.port() + "/");
                // A process of its own: the proxy's sockets are in this one, and would be taken for the command's.
                Tool.Result result = Tool.apart(folder).run("apply", "--yes", "--to", through);
                assertThat(result.err()).doesNotContain("\tat ");
                List<String> left = rows(target);
                assertThat(left.equals(before) || left.equals(wanted))
                        .as("seed " + seed + ", cut after " + bytes + " bytes" + result.all())
                        .isTrue();
                if (left.equals(wanted)) {
                    done++;
                    Tool.Result undone = target.runScript(folder.resolve("mend.undo.sql"));
                    assertThat(undone.code()).as(undone.all()).isZero();
                } else {
                    assertThat(result.code()).as(result.all()).isGreaterThan(1);
                }
            }
        }
    }
}
