package sharptally.engines;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Engine;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.Direction;
import sharptally.core.script.FindingReader;
import sharptally.core.script.write.ScriptForm;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.script.write.ScriptWriter;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * The whole script of each engine for the same findings, compared with a file: statements, guards, counting, literals,
 * and the order of tables and rows. To renew the files after a wanted change: {@code -Dsharptally.renew=true}.
 */
class DialectTest {
    private static final Path EXPECTED = Path.of("src/test/resources/scripts");

    static Stream<Engine> engines() {
        return Engines.all().stream().filter(engine -> engine.changes().isPresent());
    }

    private static ColumnShape column(String name, String declared, Kind kind, boolean nullable) {
        return new ColumnShape(
                name, declared, Optional.of(CanonicalType.of(kind)), nullable, Generation.NONE, Optional.empty());
    }

    private static TableMatch match(TableShape table) {
        return MatchPlanner.plan(table, table, MatchRequest.ofTables("", "", List.of(), List.of()));
    }

    private static final TableShape STATION = new TableShape(
            TableName.of("station"),
            false,
            List.of(
                    column("code", "varchar(8)", Kind.TEXT, false),
                    column("na\"me", "varchar(60)", Kind.TEXT, true),
                    column("lead", "varchar(8)", Kind.TEXT, true)),
            List.of(new KeyShape(true, List.of("code"))),
            List.of(new ForeignKey(List.of("lead"), TableName.of("station"), List.of("code"))),
            false);

    private static final TableShape READING = new TableShape(
            TableName.of("reading"),
            false,
            List.of(
                    column("id", "bigint", Kind.INTEGER, false),
                    column("station", "varchar(8)", Kind.TEXT, false),
                    column("level", "decimal(7,3)", Kind.DECIMAL, true),
                    column("pressure", "double precision", Kind.DOUBLE, true),
                    column("taken", "timestamp", Kind.TIMESTAMP, true),
                    column("on_day", "date", Kind.DATE, true),
                    column("seen", "timestamptz", Kind.INSTANT, true),
                    column("raw", "bytea", Kind.BYTES, true),
                    column("mark", "uuid", Kind.UUID, true),
                    column("good", "boolean", Kind.BOOLEAN, true)),
            List.of(new KeyShape(true, List.of("id"))),
            List.of(new ForeignKey(List.of("station"), TableName.of("station"), List.of("code"))),
            false);

    private static final TableShape LOG = new TableShape(
            TableName.of("log"), false, List.of(column("words", "text", Kind.TEXT, true)), List.of(), List.of(), false);

    private static Value text(String text) {
        return new Value.Text(text);
    }

    private static final Map<String, List<Finding>> FINDINGS = Map.of(
            "station",
            List.of(
                    new Finding.Changed(
                            List.of(text("A1")),
                            List.of(text("A1")),
                            List.of(new Difference(1, text("it's a \\ and\na line"), Value.NULL)),
                            List.of(new Difference(2, text("A1"), text("A1")))),
                    new Finding.Missing(List.of(text("B1")), List.of(text("B1"), text("名"), text("B2")), 1, false),
                    new Finding.Missing(List.of(text("B2")), List.of(text("B2"), Value.NULL, text("B2")), 1, false),
                    new Finding.Extra(List.of(text("C1")), List.of(text("C1"), text(""), text("C2")), 1, false),
                    new Finding.Extra(List.of(text("C2")), List.of(text("C2"), text(" "), text("C1")), 1, false)),
            "reading",
            List.of(
                    new Finding.Missing(
                            List.of(new Value.Int(7)),
                            List.of(
                                    new Value.Int(7),
                                    text("B1"),
                                    new Value.Decimal(new BigDecimal("-1.250")),
                                    new Value.Double(0.1),
                                    new Value.Timestamp(LocalDateTime.of(2026, 3, 29, 2, 30, 0, 1_000_000)),
                                    new Value.Date(LocalDate.of(2024, 2, 29)),
                                    new Value.Instant(java.time.Instant.parse("2026-10-25T01:30:00Z")),
                                    new Value.Bytes(new byte[] {0, (byte) 0xFF}),
                                    new Value.Uuid(new UUID(1, 2)),
                                    new Value.Bool(true)),
                            1,
                            false),
                    new Finding.Changed(
                            List.of(new Value.Int(Long.MIN_VALUE)),
                            List.of(new Value.Int(Long.MIN_VALUE)),
                            List.of(
                                    new Difference(3, new Value.Double(4.9e-324), new Value.Double(1e300)),
                                    new Difference(9, new Value.Bool(false), Value.NULL)),
                            List.of(
                                    new Difference(1, text("A1"), text("A1")),
                                    new Difference(
                                            2,
                                            new Value.Decimal(new BigDecimal("1.5")),
                                            new Value.Decimal(new BigDecimal("1.500"))),
                                    new Difference(5, Value.NULL, Value.NULL)))),
            "log",
            List.of(
                    new Finding.Missing(List.of(), List.of(text("calm")), 2, true),
                    new Finding.Extra(List.of(), List.of(Value.NULL), 1, true)));

    @ParameterizedTest
    @MethodSource("engines")
    void scriptAndUndoAreAsExpected(Engine engine) throws IOException {
        // Children first, so that the plan has to turn them round.
        List<TableMatch> matches = List.of(match(READING), match(LOG), match(STATION));
        List<String> written = new ArrayList<>();
        for (Direction direction : Direction.values()) {
            written.add(script(engine, matches, direction, ScriptForm.of(ScriptForm.Style.ROW)));
        }
        ScriptSafeguards caution = new ScriptSafeguards(
                false, false, false, false, Optional.of("was"), Optional.of(Duration.ofSeconds(5)));
        for (boolean guarded : new boolean[] {true, false}) {
            boolean staged = engine.changes().orElseThrow().dialect().hasTemporaryTables();
            ScriptForm.Style style = staged ? ScriptForm.Style.MERGE : ScriptForm.Style.BATCH;
            ScriptForm form = new ScriptForm(style, guarded, true, guarded, caution);
            written.add(script(engine, matches, Direction.MEND, form));
        }
        // Until they differ, one is compared with the other.
        String file = engine.name().equals("mysql") ? "mariadb" : engine.name();
        Path expected = EXPECTED.resolve(file + ".sql");
        String script = String.join("\n", written);
        if (Boolean.getBoolean("sharptally.renew")) {
            Files.createDirectories(EXPECTED);
            Files.writeString(expected, script);
        }
        assertThat(script).isEqualTo(Files.readString(expected));
    }

    private static String script(Engine engine, List<TableMatch> matches, Direction direction, ScriptForm form) {
        StringBuilder out = new StringBuilder();
        FindingReader findings = (match, kinds, consumer) -> FINDINGS.get(match.name()).stream()
                .filter(f -> kinds.contains(f.kind()))
                .forEach(consumer);
        var plan = new ChangePlan(
                matches, findings, direction, engine.changes().orElseThrow().dialect());
        new ScriptWriter(engine.changes().orElseThrow().dialect(), form, out)
                .write(plan, "//tide@db.example/archive", List.of(direction.name(), form.toString()));
        return out.toString();
    }

    @ParameterizedTest
    @MethodSource("engines")
    void hostileNamesAreQuoted(Engine engine) {
        for (String name : List.of("a b", "select", "a\"b", "a`b", "a]b", "x.y", "p%", "名前", "it's", "--", "")) {
            String quoted = engine.changes().orElseThrow().dialect().quote(name);
            char mark = quoted.charAt(0) == '[' ? ']' : quoted.charAt(0);
            assertThat(quoted).endsWith(String.valueOf(mark));
            String inside = quoted.substring(1, quoted.length() - 1);
            assertThat(inside.replace("" + mark + mark, "")).doesNotContain(String.valueOf(mark));
            assertThat(inside.replace("" + mark + mark, String.valueOf(mark))).isEqualTo(name);
        }
    }
}
