package sharptally.engines;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.script.Change;
import sharptally.core.script.Change.Field;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.Direction;
import sharptally.core.script.write.ChangeSql;
import sharptally.core.script.write.ScriptForm;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.script.write.ScriptWriter;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

/**
 * What another database understands of engines that can't be had here is run there, in its mode for that engine: rows are written,
 * read, found by what they hold and changed by the very statements. What it does not know is taken away or called otherwise.
 */
class AdaptedTest {
    private static final int ROWS = 60;

    private static final Pattern STAGED = Pattern.compile(
            "(?ms)^(?:CREATE PRIVATE|SELECT \\* INTO #|INSERT INTO |MERGE INTO |DELETE FROM |DROP TABLE ).*?;$");

    /**
     * @param adapted a statement as H2 takes it
     * @param emptyIsNull whether a text without letters is none
     */
    private record Server(
            JdbcEngine engine,
            String mode,
            List<String> types,
            List<CanonicalType> canonical,
            UnaryOperator<String> adapted,
            boolean emptyIsNull) {
        @Override
        public String toString() {
            return engine.name();
        }
    }

    static List<Server> servers() {
        CanonicalType whole = CanonicalType.of(Kind.INTEGER);
        CanonicalType decimal = CanonicalType.of(Kind.DECIMAL);
        CanonicalType text = CanonicalType.of(Kind.TEXT);
        CanonicalType bytes = CanonicalType.of(Kind.BYTES);
        CanonicalType time = CanonicalType.time(Kind.TIMESTAMP, 6);
        return List.of(
                new Server(
                        (JdbcEngine) Engines.of(Address.parse("oracle://h/s")),
                        "Oracle",
                        List.of("NUMBER(18,0)", "VARCHAR2(100)", "NUMBER(20,6)", "TIMESTAMP(6)", "RAW(20)"),
                        List.of(whole, text, decimal, time, bytes),
                        // It has no text by the numbers of its letters.
                        sql -> sql.replaceAll(
                                        "UNISTR\\(('(?:[^']|'')*')\\)", "STRINGDECODE(replace($1, '\\\\', '\\\\u'))")
                                .replace("EMPTY_BLOB()", "X''"),
                        true),
                new Server(
                        (JdbcEngine) Engines.of(Address.parse("sqlserver://h/d")),
                        "MSSQLServer",
                        List.of("bigint", "nvarchar(100)", "decimal(20,6)", "datetime2(6)", "varbinary(20)"),
                        List.of(whole, text, decimal, time, bytes),
                        // Nor collations of this name, nor styles of text, nor these names of functions and types.
                        sql -> sql.replaceAll("SELECT CASE WHEN .*SERVERPROPERTY.*", "SELECT 0")
                                .replace(" COLLATE Latin1_General_100_BIN2", "")
                                .replaceAll(
                                        "CONVERT\\(datetime2\\(7\\), '([^'T]*)T([^']*)', 126\\)", "TIMESTAMP '$1 $2'")
                                .replaceAll("CONVERT\\(varchar\\(27\\), ([^ )]+), 12[01]\\)", "CAST($1 AS VARCHAR)")
                                .replace("DATALENGTH(", "OCTET_LENGTH(")
                                .replace("NCHAR(", "CHAR(")
                                .replaceAll("CONVERT\\(varbinary\\(max\\), ([^ )]+)\\)", "CAST($1 AS VARBINARY)")
                                .replaceAll("\\b0x([0-9a-f]*)", "X'$1'"),
                        false));
    }

    private static Value value(Random random, int column, boolean nullable) {
        if (nullable && random.nextInt(5) == 0) {
            return Value.NULL;
        }
        return switch (column) {
            case 1 ->
                new Value.Text(List.of("", "a", "A", "a ", "it's", "x\ny", "名前", "tab\t\\end")
                        .get(random.nextInt(8)));
            case 2 -> new Value.Decimal(BigDecimal.valueOf(random.nextInt(20_000_000) - 10_000_000, 6));
            case 3 ->
                new Value.Timestamp(
                        LocalDateTime.of(2026, 1 + random.nextInt(12), 1, 2, 30, 0, 1000 * random.nextInt(1_000_000)));
            default -> {
                byte[] some = new byte[1 + random.nextInt(9)];
                random.nextBytes(some);
                yield new Value.Bytes(some);
            }
        };
    }

    private static Connection adapted(Connection connection, Server server) {
        return (Connection) Proxy.newProxyInstance(
                AdaptedTest.class.getClassLoader(), new Class<?>[] {Connection.class}, (proxy, method, arguments) -> {
                    if (method.getName().equals("prepareStatement")) {
                        arguments[0] = server.adapted().apply((String) arguments[0]);
                    }
                    try {
                        return method.invoke(connection, arguments);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }

    private static List<List<Value>> rows(Server server, Connection connection, TableShape table) {
        Connector connector = (Connector) Proxy.newProxyInstance(
                AdaptedTest.class.getClassLoader(),
                new Class<?>[] {Connector.class},
                (proxy, method, arguments) -> switch (method.getName()) {
                    case "connect" -> adapted(connection, server);
                    case "keeps" -> Set.of();
                    case "sharing" -> Optional.empty();
                    default -> method.getReturnType() == boolean.class ? Boolean.FALSE : null;
                });
        Place place = server.engine()
                .over(connector)
                .open(PlaceAccess.of(Address.parse(server.engine().name() + "://h/d")));
        List<List<Value>> all = new ArrayList<>();
        try (RowSource source = place.read(
                new ReadRequest(table, table.columns(), List.of(table.columns().get(0))))) {
            for (Optional<RowBatch> batch = source.next(); batch.isPresent(); batch = source.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    List<Value> cells = new ArrayList<>();
                    for (int column = 0; column < table.columns().size(); column++) {
                        cells.add(batch.get().column(column).value(row));
                    }
                    all.add(cells);
                }
            }
        }
        return all;
    }

    private static List<Field> fields(TableShape table, List<Value> row) {
        return IntStream.range(0, row.size())
                .mapToObj(i -> new Field(table.columns().get(i), row.get(i)))
                .toList();
    }

    private static long run(Server server, Statement statement, ChangeSql sql, TableShape table, Change change)
            throws SQLException {
        String text = sql.statement(table, change).render(sql.dialect()::literal);
        return statement.executeUpdate(server.adapted().apply(text));
    }

    private static List<String> told(List<List<Value>> rows) {
        return rows.stream()
                .map(row -> row.stream().map(AdaptedTest::told).toList().toString())
                .toList();
    }

    private static String told(Value value) {
        return value instanceof Value.Decimal decimal
                ? decimal.value().stripTrailingZeros().toPlainString()
                : String.valueOf(value);
    }

    @ParameterizedTest
    @MethodSource("servers")
    void rowsAreWrittenFoundAndChanged(Server server) throws SQLException {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println(server + " seed " + seed);
        Random random = new Random(seed);
        SqlDialect dialect = server.engine().writing().orElseThrow().dialect();
        TableShape table = table(server);
        List<ColumnShape> columns = table.columns();
        ChangeSql sql = new ChangeSql(dialect, true, false, false, Optional.empty());
        try (Connection connection =
                        DriverManager.getConnection("jdbc:h2:mem:" + server + seed + ";MODE=" + server.mode());
                Statement statement = connection.createStatement()) {
            create(statement, dialect, table);
            List<List<Value>> rows = new ArrayList<>();
            for (int id = 0; id < ROWS; id++) {
                List<Value> row = new ArrayList<>(List.of(new Value.Int(id)));
                for (int column = 1; column < columns.size(); column++) {
                    row.add(value(random, column, true));
                }
                rows.add(row);
                Change.Insert insert =
                        new Change.Insert(fields(table, row), fields(table, row).subList(0, 1));
                assertThat(run(server, statement, sql, table, insert))
                        .as("%s", row)
                        .isEqualTo(1);
                assertThat(run(server, statement, sql, table, insert))
                        .as("%s again", row)
                        .isZero();
            }
            List<List<Value>> kept = rows.stream()
                    .map(row -> row.stream()
                            .map(v -> server.emptyIsNull() && v.equals(new Value.Text("")) ? Value.NULL : v)
                            .toList())
                    .toList();
            assertThat(told(rows(server, connection, table))).isEqualTo(told(kept));
            List<List<Value>> changed = new ArrayList<>(kept);
            for (int id = 0; id < ROWS; id++) {
                int column = 1 + random.nextInt(columns.size() - 1);
                List<Field> held = fields(table, kept.get(id));
                Value other = value(random, column, false);
                Value now = value(random, column, true);
                List<Field> rest = new ArrayList<>(held.subList(1, held.size()));
                rest.remove(column - 1);
                Change.Update wrong = update(held, column, rest, other, now, columns);
                boolean asItIs = told(other).equals(told(kept.get(id).get(column)))
                        || server.emptyIsNull()
                                && other.equals(new Value.Text(""))
                                && kept.get(id).get(column) instanceof Value.Null;
                if (!asItIs) {
                    assertThat(run(server, statement, sql, table, wrong))
                            .as("%s", wrong)
                            .isZero();
                }
                Change.Update right = update(held, column, rest, kept.get(id).get(column), now, columns);
                assertThat(run(server, statement, sql, table, right))
                        .as("%s", right)
                        .isEqualTo(1);
                List<Value> row = new ArrayList<>(kept.get(id));
                row.set(column, server.emptyIsNull() && now.equals(new Value.Text("")) ? Value.NULL : now);
                changed.set(id, row);
            }
            assertThat(told(rows(server, connection, table))).isEqualTo(told(changed));
            for (int id = 0; id < ROWS; id += 2) {
                Change.Delete delete = new Change.Delete(fields(table, changed.get(id)), 1, id % 4 == 0);
                assertThat(run(server, statement, sql, table, delete))
                        .as("%s", delete)
                        .isEqualTo(1);
                assertThat(run(server, statement, sql, table, delete))
                        .as("%s again", delete)
                        .isZero();
            }
            assertThat(rows(server, connection, table)).hasSize(ROWS / 2);
        }
    }

    private static TableShape table(Server server) {
        List<ColumnShape> columns = IntStream.range(0, server.types().size())
                .mapToObj(i -> new ColumnShape(
                        "c" + i,
                        server.types().get(i),
                        Optional.of(server.canonical().get(i)),
                        i > 0,
                        Generation.NONE,
                        Optional.empty()))
                .toList();
        return new TableShape(
                TableName.of("gauge"), false, columns, List.of(new KeyShape(true, List.of("c0"))), List.of(), false);
    }

    private static void create(Statement statement, SqlDialect dialect, TableShape table) throws SQLException {
        StringBuilder create = new StringBuilder("CREATE TABLE " + dialect.quote("gauge") + " (");
        for (ColumnShape column : table.columns()) {
            create.append(dialect.quote(column.name()))
                    .append(' ')
                    .append(column.declaredType())
                    .append(", ");
        }
        statement.execute(create + "PRIMARY KEY (" + dialect.quote("c0") + "))");
    }

    /** Statements that stage rows and bring them into the table, as a script has them, in H2's words. */
    private static List<String> merging(Server server, TableShape table, List<Finding> findings) {
        SqlDialect dialect = server.engine().writing().orElseThrow().dialect();
        TableMatch match = MatchPlanner.plan(table, table, MatchRequest.ofTables("", "", List.of(), List.of()));
        ChangePlan plan = new ChangePlan(
                List.of(match),
                (m, kinds, consumer) ->
                        findings.stream().filter(f -> kinds.contains(f.kind())).forEach(consumer),
                Direction.MEND,
                dialect);
        StringBuilder script = new StringBuilder();
        ScriptForm form = new ScriptForm(ScriptForm.Style.MERGE, true, false, false, ScriptSafeguards.NONE);
        new ScriptWriter(dialect, form, script).write(plan, "//h/d", List.of());
        return STAGED.matcher(script)
                .results()
                .map(MatchResult::group)
                .filter(sql -> !sql.contains("sharp_tally_made")
                        && !sql.matches("(?s)(?:INSERT INTO|DROP TABLE) #sharp_tally_go.*"))
                .map(sql -> sql.substring(0, sql.length() - 1)
                        .replaceAll("\\(SELECT go FROM #sharp_tally_go\\)|TO_NUMBER\\(SYS_CONTEXT\\([^)]*\\)\\)", "1")
                        .replaceAll(
                                "CREATE PRIVATE TEMPORARY (TABLE \\S+) ON COMMIT PRESERVE DEFINITION",
                                "CREATE LOCAL TEMPORARY $1")
                        .replace("ORA$PTT_", "ORA_PTT_")
                        .replaceAll("SELECT \\* INTO #(\\w+) FROM", "CREATE LOCAL TEMPORARY TABLE $1 AS SELECT * FROM")
                        .replaceAll("#(sharp_tally_rows)", "$1")
                        .replace(" WITH (HOLDLOCK)", "")
                        .replaceAll("(?s)(WHEN MATCHED) (THEN UPDATE SET [^\n]*)\n  WHERE (.*)", "$1 AND $3 $2"))
                .map(server.adapted())
                .toList();
    }

    /** Of a set, only rows that hold what they held. */
    @ParameterizedTest
    @MethodSource("servers")
    void whatIsStagedIsMergedWhereItFits(Server server) throws SQLException {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println(server + " seed " + seed);
        Random random = new Random(seed);
        SqlDialect dialect = server.engine().writing().orElseThrow().dialect();
        TableShape table = table(server);
        ChangeSql sql = new ChangeSql(dialect, true, false, false, Optional.empty());
        try (Connection connection =
                        DriverManager.getConnection("jdbc:h2:mem:merge" + server + seed + ";MODE=" + server.mode());
                Statement statement = connection.createStatement()) {
            create(statement, dialect, table);
            List<Finding> findings = new ArrayList<>();
            List<List<Value>> expected = new ArrayList<>();
            for (int id = 0; id < ROWS; id++) {
                List<Value> was = row(server, random, id);
                List<Value> wanted = row(server, random, id);
                List<Value> intruder = row(server, random, id);
                List<Value> key = was.subList(0, 1);
                List<Difference> differing = IntStream.range(1, was.size())
                        .filter(c -> !told(was.get(c)).equals(told(wanted.get(c))))
                        .mapToObj(c -> new Difference(c, wanted.get(c), was.get(c)))
                        .toList();
                List<Difference> alike = IntStream.range(1, was.size())
                        .filter(c -> told(was.get(c)).equals(told(wanted.get(c))))
                        .mapToObj(c -> new Difference(c, wanted.get(c), was.get(c)))
                        .toList();
                boolean moved = id % 7 == 0 && !told(List.of(was)).equals(told(List.of(intruder)));
                List<Value> there = moved ? intruder : was;
                List<Field> fields = fields(table, there);
                if (id % 3 != 0) {
                    run(server, statement, sql, table, new Change.Insert(fields, fields.subList(0, 1)));
                }
                if (id % 3 == 0) {
                    findings.add(new Finding.Missing(key, wanted, 1, false));
                    expected.add(wanted);
                } else if (id % 3 == 1) {
                    findings.add(new Finding.Extra(key, was, 1, false));
                    if (moved) {
                        expected.add(there);
                    }
                } else {
                    findings.add(new Finding.Changed(key, key, differing, alike));
                    expected.add(moved || differing.isEmpty() ? there : wanted);
                }
            }
            List<String> statements = merging(server, table, findings);
            assertThat(statements.stream().filter(s -> s.startsWith("MERGE"))).isNotEmpty();
            for (String each : statements) {
                statement.execute(each);
            }
            assertThat(told(rows(server, connection, table)))
                    .as("%s", statements)
                    .isEqualTo(told(expected));
        }
    }

    private static List<Value> row(Server server, Random random, int id) {
        List<Value> row = new ArrayList<>(List.of(new Value.Int(id)));
        for (int column = 1; column < server.types().size(); column++) {
            Value value = value(random, column, true);
            row.add(server.emptyIsNull() && value.equals(new Value.Text("")) ? Value.NULL : value);
        }
        return row;
    }

    private static Change.Update update(
            List<Field> held, int column, List<Field> rest, Value before, Value after, List<ColumnShape> columns) {
        return new Change.Update(
                held.subList(0, 1),
                List.of(new Field(columns.get(column), before)),
                List.of(new Field(columns.get(column), after)),
                rest,
                false);
    }
}
