package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.Engines;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

/** What every engine must do, whatever its database is like. */
@InTurn(3)
class EngineContractTest {
    private static final int ROWS = 300_000;

    @TempDir
    Path folder;

    private Database large(Database.Kind kind) throws Exception {
        Database database = new Database(kind, folder, "large");
        String numbers = switch (kind) {
            case H2 -> "SELECT X, REPEAT('row ' || X, 10) FROM SYSTEM_RANGE(1, " + ROWS + ")";
            case MARIADB -> "SELECT seq, repeat(concat('row ', seq), 10) FROM seq_1_to_" + ROWS;
            case MYSQL ->
                "SELECT @i := @i + 1, repeat(concat('row ', @i), 10) FROM information_schema.collations a,"
                        + " information_schema.collations b, information_schema.engines c, (SELECT @i := 0) z LIMIT "
                        + ROWS;
            case SQLITE ->
                "WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < " + ROWS
                        + ") SELECT i, 'row ' || hex(zeroblob(40)) FROM n";
            case DUCKDB -> "SELECT range, repeat('row ' || range, 10) FROM range(1, " + (ROWS + 1) + ")";
            default -> "SELECT i, repeat('row ' || i, 10) FROM generate_series(1, " + ROWS + ") i";
        };
        return database.execute("CREATE TABLE t (id BIGINT PRIMARY KEY, v VARCHAR(200))", "INSERT INTO t " + numbers);
    }

    private PlaceAccess access(Database database) {
        String address = database.address();
        boolean file = !address.contains("//");
        int colon = address.indexOf(':');
        return PlaceAccess.of(Address.parse(
                file ? address.substring(0, colon + 1) + folder.resolve(address.substring(colon + 1)) : address));
    }

    @ParameterizedTest
    @EnumSource
    void streamsInBoundedMemoryStopsQuicklyAndNeverWrites(Database.Kind kind) throws Exception {
        Database database = large(kind);
        PlaceAccess access = access(database);
        Engine engine = Engines.of(access.address());
        assertThat(engine.name())
                .isEqualTo((kind == Database.Kind.MYSQL ? kind : kind.like())
                        .name()
                        .toLowerCase());
        try (Place place = engine.open(access)) {
            TableShape table = place.describe("t");
            assertThat(table.keys().get(0).primary()).isTrue();
            List<ColumnShape> key = table.columns().subList(0, 1);
            long began = System.nanoTime();
            try (RowSource rows = place.read(new ReadRequest(table, table.columns(), key))) {
                assertThat(rows.next()).isPresent();
            }
            assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(Duration.ofSeconds(5));
            try (RowSource again = place.read(new ReadRequest(table, table.columns(), key)
                    .after(List.of(new sharptally.core.types.Value.Int(ROWS - 3))))) {
                assertThat(again.next().orElseThrow().rows())
                        .as("a place is usable after a reader was ended")
                        .isEqualTo(3);
            }
            assertThat(place.aggregates().orElseThrow().countRows(table)).isEqualTo(ROWS);
        }
        try (Connection connection = ((JdbcEngine) engine).connector().connect(access, Connector.Access.READ_ONLY);
                Statement statement = connection.createStatement()) {
            assertThatThrownBy(() -> statement.execute("DELETE FROM "
                            + engine.changes().orElseThrow().dialect().quote("t")))
                    .as("the database itself refuses")
                    .isInstanceOf(SQLException.class);
        }
        // Rows of about 30 MB on each side, twice that as strings, in a heap of 40 MB.
        Tool.Result compared = Tool.process(
                folder,
                "",
                List.of(
                        "env",
                        "JAVA_OPTS=-Xms8m -Xmx40m",
                        Tool.home().resolve("bin/sharp-tally").toString(),
                        "compare",
                        access.address().toString(),
                        access.address().toString()));
        assertThat(compared.code()).as(compared.all()).isZero();
        assertThat(compared.out()).contains("same: every row of 1 table");
    }

    /** Types that only one engine has: compared by its own text, mended and undone to the letter. */
    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB", "DUCKDB", "H2"})
    void ownTypesAreComparedMendedAndUndone(Database.Kind kind) throws Exception {
        List<String> types = switch (kind) {
            case POSTGRESQL ->
                List.of(
                        "interval|1 mon 2 days 03:04:05.6|1 mon 2 days 03:04:05.7",
                        "timetz|12:00+02|12:00+03",
                        "integer[]|{1,NULL,3}|{1,3}",
                        "text[]|{\"a,b\",c}|{a,\"b,c\"}",
                        "int4range|[1,5)|[1,6)",
                        "inet|10.0.0.1/8|10.0.0.1/9",
                        "macaddr|08:00:2b:01:02:03|08:00:2b:01:02:04",
                        "xml|<a>1</a>|<a>2</a>",
                        "money|12.34|12.35",
                        "point|(1,2)|(1,3)",
                        "bit(4)|0101|0111",
                        "json|{\"a\": 1}|{\"a\": 2}",
                        "numeric|NaN|0",
                        "date|infinity|-infinity",
                        "timestamp|-infinity|4713-01-01 00:00:00 BC",
                        "tsvector|a b|a c",
                        "oid|4294967295|1");
            case MARIADB ->
                List.of(
                        "time(3)|-838:59:59|838:59:59",
                        "year|1999|2000",
                        "enum('a','B')|a|B",
                        "set('x','y')|x,y|y",
                        "inet6|::1|::2",
                        "bit(5)|1|2",
                        "bigint unsigned|18446744073709551615|18446744073709551614",
                        "mediumint|-8388608|8388607",
                        "datetime(6)|9999-12-31 23:59:59.999999|9999-12-31 23:59:59.999998",
                        "tinyblob|x|y",
                        "varchar(9) character set latin1|\u00e9|e");
            case DUCKDB ->
                List.of(
                        "INTERVAL|1 month 2 days|1 month 3 days",
                        "HUGEINT|170141183460469231731687303715884105727|0",
                        "INTEGER[]|[1, NULL, 3]|[1, 3]",
                        "VARCHAR[]|['a, b']|['a', 'b']",
                        "BIT|0101|0111",
                        "TIMESTAMP_NS|2026-01-01 00:00:00.123456789|2026-01-01 00:00:00.123456788",
                        "DATE|infinity|-infinity",
                        "STRUCT(a INTEGER, b VARCHAR)|{'a': 1, 'b': 'x'}|{'a': 1, 'b': 'y'}",
                        "UTINYINT|255|254",
                        "TIMETZ|12:00:00+02|12:00:00+03");
            default ->
                List.of(
                        "INTERVAL DAY TO SECOND|1 02:03:04.5|1 02:03:04.6",
                        "TIME WITH TIME ZONE|12:00:00+02|12:00:00+03",
                        "DECFLOAT(20)|1.5|1.6",
                        "ENUM('a', 'B')|a|B",
                        "VARCHAR_IGNORECASE(9)|a|A",
                        "TIMESTAMP(9)|2026-01-01 00:00:00.123456789|2026-01-01 00:00:00.123456788");
        };
        StringBuilder columns = new StringBuilder("id BIGINT PRIMARY KEY");
        StringBuilder one = new StringBuilder("1");
        StringBuilder other = new StringBuilder("1");
        for (int i = 0; i < types.size(); i++) {
            String[] parts = types.get(i).split("\\|");
            columns.append(", c").append(i).append(' ').append(parts[0]);
            one.append(", ").append(literal(parts[1], parts[0], kind));
            other.append(", ").append(literal(parts[2], parts[0], kind));
        }
        Database source = new Database(kind, folder, "one");
        Database target = new Database(kind, folder, "other");
        source.execute(
                "CREATE TABLE t (" + columns + ")",
                "INSERT INTO t VALUES (" + one + ")",
                "INSERT INTO t (id) VALUES (2)",
                "INSERT INTO t VALUES (3" + one.substring(1) + ")");
        target.execute(
                "CREATE TABLE t (" + columns + ")",
                "INSERT INTO t VALUES (" + other + ")",
                "INSERT INTO t (id) VALUES (2)",
                "INSERT INTO t VALUES (4" + one.substring(1) + ")");
        Tool tool = new Tool(folder);
        assertThat(tool.run("compare", source.address(), source.address()).code())
                .isZero();
        Tool.Result compared = tool.run("compare", source.address(), target.address());
        assertThat(compared.code()).as(compared.all()).isEqualTo(1);
        assertThat(tool.run("show", "--kind", "changed", "--format", "csv").lines())
                .as("every column differs, and each once")
                .hasSize(types.size() + 1);
        List<String> names = Arrays.stream(columns.toString().split(", (?=c\\d+ )"))
                .map(c -> kind == Database.Kind.H2 ? c.split(" ")[0].toUpperCase() : c.split(" ")[0])
                .toList();
        String table = kind == Database.Kind.H2 ? "T" : "t";
        List<String> before = target.exactRows(table, names);
        assertThat(tool.run("script").code()).isZero();
        Path run = tool.latestRun();
        Tool.Result mended = target.runScript(run.resolve("script.sql"));
        assertThat(mended.code()).as(run + mended.all()).isZero();
        Tool.Result again = tool.run("compare", source.address(), target.address());
        assertThat(again.code()).as(again.all()).isZero();
        Tool.Result undone = target.runScript(run.resolve("undo.sql"));
        assertThat(undone.code()).as(run + undone.all()).isZero();
        assertThat(target.exactRows(table, names)).isEqualTo(before);
        target.execute("UPDATE t SET c0 = NULL WHERE id = 1");
        List<String> movedOn = target.exactRows(table, names);
        assertThat(target.runScript(run.resolve("script.sql")).code())
                .as("the guard stops it")
                .isNotZero();
        Tool.Result refused = tool.run("apply", run.toString(), "--yes");
        assertThat(refused.code()).as(refused.all()).isEqualTo(4);
        assertThat(target.exactRows(table, names)).as("nothing at all was done").isEqualTo(movedOn);
        assertThat(target.runScript(run.resolve("undo.sql")).code())
                .as("nor taken back")
                .isNotZero();
        tool.run("compare", source.address(), target.address());
        Tool.Result applied = tool.run("apply", "--yes");
        assertThat(applied.code()).as(applied.all()).isZero();
    }

    private static String literal(String value, String type, Database.Kind kind) {
        boolean bare = type.equals("year")
                || type.startsWith("bit(5")
                || kind == Database.Kind.DUCKDB && value.startsWith("[");
        if (type.startsWith("INTERVAL DAY")) {
            return "INTERVAL '" + value + "' DAY TO SECOND";
        }
        if (type.startsWith("STRUCT")) {
            return value;
        }
        return bare ? value : "'" + value.replace("'", "''") + "'";
    }
}
