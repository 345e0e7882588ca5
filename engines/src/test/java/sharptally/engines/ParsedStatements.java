package sharptally.engines;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.Proxy;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.UUID;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import sharptally.core.place.Address;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.JoinRequest;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.TimeUnit;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;

/**
 * What is sent to a server of which none is at hand, taken down where it would be sent, is SQL of that server by a grammar that
 * others wrote. That is less than being run: what it means there, nobody has seen.
 */
public abstract class ParsedStatements {
    /** What a statement can't do without. */
    private static final Pattern WORD =
            Pattern.compile("[()]|\\b(?:FROM|WHERE|AND|SET|SELECT|VALUES|USING|MATCHED|THEN|UNION)\\b");

    private static final int BROKEN = 100;

    private final Set<String> sent = new LinkedHashSet<>();

    protected abstract JdbcEngine engine();

    protected abstract Connector connector();

    protected abstract Address address();

    /** One of each type that is compared, with its scale. */
    protected abstract Optional<CanonicalType> canonical(String type);

    protected abstract List<String> types();

    /** A name that is hard to quote. */
    protected abstract String hostile();

    protected abstract boolean isTaken(String statement);

    /** Statements of the expected scripts. */
    protected abstract List<String> scripts() throws IOException;

    private ColumnShape column(String name, String declared, boolean nullable) {
        return new ColumnShape(
                name, declared, canonical(declared), nullable, Generation.NONE, Optional.of("Latin1_General_CI_AS"));
    }

    /** A value of each kind, of several forms. */
    private static List<Value> values(Kind kind) {
        return switch (kind) {
            case BOOLEAN -> List.of(new Value.Bool(true), new Value.Bool(false));
            case INTEGER -> List.of(new Value.Int(-1), new Value.Int(Long.MIN_VALUE));
            case DECIMAL -> List.of(new Value.Decimal(new BigDecimal("-12345678901234.567891")));
            case FLOAT -> List.of(new Value.Real(1.5f), new Value.Real(1e-30f));
            case DOUBLE -> List.of(new Value.Double(0.1), new Value.Double(-1e300));
            case TEXT -> List.of(new Value.Text("it's ]名$(x)"), new Value.Text("a\nGO\n"), new Value.Text(""));
            case BYTES -> List.of(new Value.Bytes(new byte[] {0, -1}), new Value.Bytes(new byte[0]));
            case DATE -> List.of(new Value.Date(LocalDate.of(2026, 3, 29)));
            case TIME -> List.of(new Value.Time(1), new Value.Time(86_399_000_000_000L));
            case TIMESTAMP -> List.of(new Value.Timestamp(LocalDateTime.of(2026, 3, 29, 2, 30, 0, 1_000_000)));
            case INSTANT -> List.of(new Value.Instant(java.time.Instant.ofEpochSecond(1, 5)));
            case UUID -> List.of(new Value.Uuid(new UUID(1, 2)));
            default -> List.of(new Value.Other("xml", "<a b=\"'\"/>"));
        };
    }

    private static Object proxy(Class<?> type, InvocationHandler handler) {
        return Proxy.newProxyInstance(ParsedStatements.class.getClassLoader(), new Class<?>[] {type}, handler);
    }

    private static Object nothing(Class<?> type) {
        return type == boolean.class
                ? Boolean.FALSE
                : type == int.class ? (Object) 0 : type == long.class ? (Object) 0L : null;
    }

    /** A result of one row, in which all is 1, or of none. */
    private static ResultSet result(boolean filled) {
        int[] row = {0};
        return (ResultSet) proxy(ResultSet.class, (self, method, arguments) -> switch (method.getName()) {
            case "next" -> filled && row[0]++ == 0;
            case "getString" -> "1";
            case "getInt" -> 1;
            case "getLong" -> 1L;
            case "getMetaData" -> proxy(ResultSetMetaData.class, (s, m, a) -> nothing(m.getReturnType()));
            default -> nothing(method.getReturnType());
        });
    }

    /** A connection that takes down what it is given. */
    private Connection recording() {
        return (Connection) proxy(Connection.class, (self, method, arguments) -> switch (method.getName()) {
            case "prepareStatement" -> {
                sent.add((String) arguments[0]);
                boolean one = !((String) arguments[0]).matches("(?s).* FROM [\\[\"].*");
                yield proxy(
                        PreparedStatement.class,
                        (s, m, a) -> m.getName().equals("executeQuery") ? result(one) : nothing(m.getReturnType()));
            }
            case "createStatement" ->
                proxy(Statement.class, (s, m, a) -> {
                    if (a != null && a.length > 0 && a[0] instanceof String sql) {
                        sent.add(sql);
                    }
                    return m.getName().equals("executeQuery") ? result(true) : nothing(m.getReturnType());
                });
            case "getMetaData" -> proxy(java.sql.DatabaseMetaData.class, (s, m, a) -> nothing(m.getReturnType()));
            default -> nothing(method.getReturnType());
        });
    }

    private Place place() {
        return over(address());
    }

    private Place over(Address address) {
        Connector real = connector();
        Connector recorder = (Connector) proxy(Connector.class, (self, method, arguments) -> {
            if (method.getName().equals("connect")) {
                return real.prepare(recording(), (PlaceAccess) arguments[0], (Connector.Access) arguments[1]);
            }
            return method.invoke(real, arguments);
        });
        return engine().over(recorder).open(PlaceAccess.of(address));
    }

    /** What comes back is of no use; what was sent is looked at. */
    private static void send(Runnable asking) {
        try {
            asking.run();
        } catch (RuntimeException e) {
            assertThat(e).as("an answer without meaning").isNotInstanceOf(ClassCastException.class);
        }
    }

    private static void drain(Place place, ReadRequest request) {
        send(() -> {
            try (RowSource rows = place.read(request)) {
                rows.next();
            }
        });
    }

    /** A join of the table with one of another database of the server, by each column. */
    private void joined(Joins joins, Place place, List<ColumnShape> columns) {
        Place other = over(Address.parse(address().engine() + "://127.0.0.1/other%5Ddb"));
        TableShape source = new TableShape(TableName.of(hostile()), false, columns, List.of(), List.of(), false);
        TableShape target = joins.reached(other, source);
        assertThat(joins.reached(place, source).name().schema()).contains(place.ownSchema());
        send(joins::instance);
        send(joins::standpoint);
        for (int key = 0; key < columns.size(); key++) {
            KeyRange range = new KeyRange(
                    List.of(values(columns.get(key).type().orElseThrow().kind()).get(0)), List.of());
            List<ColumnShape> some = List.of(columns.get(key), columns.get(0));
            JoinRequest request = new JoinRequest(source, some, target, some, some.size(), List.of(0), range);
            send(() -> {
                try (RowSource rows = joins.joined(request)) {
                    rows.next();
                }
            });
        }
    }

    @Test
    void whatIsReadIsParsed() {
        Place place = place();
        send(place::facts);
        send(place::tables);
        send(place::ownSchema);
        send(() -> place.hides(Optional.empty()));
        TableName name = TableName.of("we]ird", hostile());
        send(() -> place.hides(Optional.of(name)));
        send(() -> place.estimate(name));
        send(() -> place.describe("1"));
        send(() -> place.describe(new Extract("q", Optional.of("SELECT 1 AS x"), Optional.empty(), Map.of())));
        List<ColumnShape> columns = new ArrayList<>(List.of(column("i[d]", types().get(0), false)));
        types().forEach(type -> columns.add(column("c " + type, type, true)));
        TableShape table = new TableShape(name, false, columns, List.of(), List.of(), false)
                .with(new SideEffects(List.of(), List.of(), true, false));
        ColumnShape id = columns.get(0);
        ReadRequest all = new ReadRequest(table, columns, List.of(id));
        drain(place, all);
        drain(place, all.first(10));
        drain(place, all.first(10).skipping(20));
        drain(place, new ReadRequest(table, columns, List.of()).first(10).skipping(20));
        for (ColumnShape key : columns) {
            Kind kind = key.type().orElseThrow().kind();
            for (Value value : values(kind)) {
                KeyRange range = new KeyRange(List.of(value, new Value.Int(1)), List.of(value, new Value.Int(9)));
                ReadRequest request = new ReadRequest(table, List.of(key), List.of(key, id));
                drain(place, request.within(List.of(range)));
                drain(place, request.after(List.of(value, new Value.Int(1))));
                place.seeking().ifPresent(seek -> send(() -> seek.bounds(request, 100)));
                for (SumsRequest.Form form : List.of(SumsRequest.Form.COMMON)) {
                    List<SumsRequest.Hashed> hashed =
                            List.of(new SumsRequest.Hashed(id, Kind.INTEGER, 9), new SumsRequest.Hashed(key, kind, 3));
                    SumsRequest sums = new SumsRequest(
                            table, hashed, List.of(id), List.of(KeyRange.ALL), OptionalLong.empty(), form);
                    SumsRequest slices = new SumsRequest(
                            table, hashed, List.of(id), List.of(KeyRange.ALL), OptionalLong.of(1000), form);
                    if (place.checksums().orElseThrow().problem(sums).isEmpty()) {
                        send(() -> place.checksums().orElseThrow().sums(sums));
                        send(() -> place.checksums().orElseThrow().sums(slices));
                    }
                }
            }
            for (Measure measure : Measure.values()) {
                send(() -> place.aggregates()
                        .orElseThrow()
                        .totals(new TotalsRequest(
                                table,
                                List.of(new TotalsRequest.Group(key, Optional.empty())),
                                List.of(new TotalsRequest.Term(measure, Optional.of(key), true)))));
            }
            for (TimeUnit unit : TimeUnit.values()) {
                send(() -> place.aggregates()
                        .orElseThrow()
                        .totals(new TotalsRequest(
                                table,
                                List.of(new TotalsRequest.Group(key, Optional.of(unit))),
                                List.of(new TotalsRequest.Term(Measure.ROWS, Optional.empty(), true)))));
            }
        }
        place.joins().ifPresent(joins -> joined(joins, place, columns));
        assertThat(sent).hasSizeGreaterThan(150);
        assertThat(sent.stream().filter(sql -> !isTaken(sql))).isEmpty();
    }

    @Test
    void scriptsAreParsed() throws IOException {
        List<String> statements = scripts();
        assertThat(statements).hasSizeGreaterThan(100);
        assertThat(statements.stream().filter(sql -> !isTaken(sql))).isEmpty();
    }

    /** A grammar that takes anything would prove nothing; some of what is broken is still SQL, as a DELETE without FROM. */
    @Test
    void whatIsBrokenIsRefused() throws IOException {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        List<String> statements = scripts();
        int refused = 0;
        int broken = 0;
        while (broken < BROKEN) {
            String sql = statements.get(random.nextInt(statements.size()));
            List<MatchResult> words =
                    WORD.matcher(sql.replaceAll("'[^']*'", "'text'")).results().toList();
            if (words.isEmpty()) {
                continue;
            }
            MatchResult word = words.get(random.nextInt(words.size()));
            String text = sql.replaceAll("'[^']*'", "'text'");
            String without = text.substring(0, word.start()) + text.substring(word.end());
            broken++;
            if (isTaken(without)) {
                System.out.println("taken: " + without);
            } else {
                refused++;
            }
        }
        assertThat(refused).isGreaterThan(BROKEN * 85 / 100);
    }
}
