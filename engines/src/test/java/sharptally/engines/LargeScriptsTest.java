package sharptally.engines;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import sharptally.core.finding.Finding;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.place.Address;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.Direction;
import sharptally.core.script.write.ScriptForm;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.script.write.ScriptWriter;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.SideEffects;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** What the clients of engines that can't be had here would do to scripts of many statements, long values and many columns. */
class LargeScriptsTest {
    private static final int ROWS = 1_203;

    private static ColumnShape column(String name, String declared, Kind kind, boolean nullable) {
        return new ColumnShape(
                name, declared, Optional.of(CanonicalType.of(kind)), nullable, Generation.NONE, Optional.empty());
    }

    private static String script(String engine, TableShape table, ScriptForm form, List<List<Value>> rows) {
        TableMatch match = MatchPlanner.plan(table, table, MatchRequest.ofTables("", "", List.of(), List.of()));
        SqlDialect dialect = Engines.of(Address.parse(engine + "://h/d"))
                .changes()
                .orElseThrow()
                .dialect();
        ChangePlan plan = new ChangePlan(
                List.of(match),
                (m, kinds, consumer) -> rows.stream()
                        .map(row -> new Finding.Missing(row.subList(0, 1), row, 1, false))
                        .filter(f -> kinds.contains(f.kind()))
                        .forEach(consumer),
                Direction.MEND,
                dialect);
        StringBuilder out = new StringBuilder();
        new ScriptWriter(dialect, form, out).write(plan, "//h/d", List.of("test"));
        return out.toString();
    }

    private static TableShape table(List<ColumnShape> columns) {
        return new TableShape(
                        TableName.of("gauge"),
                        false,
                        columns,
                        List.of(new KeyShape(true, List.of("id"))),
                        List.of(),
                        true)
                .with(new SideEffects(List.of(), List.of(), true, false)
                        .withRunning(List.of(TableName.of("one"), TableName.of("keep", "two"))));
    }

    /** A variable ends with its part, and a part behind a failed one must not begin to change anything by itself. */
    @ParameterizedTest
    @EnumSource
    void eachPartLooksForTheTransaction(ScriptForm.Style style) {
        TableShape table = table(List.of(column("id", "bigint", Kind.INTEGER, false)));
        List<List<Value>> rows = IntStream.range(0, ROWS)
                .mapToObj(i -> List.<Value>of(new Value.Int(i)))
                .toList();
        ScriptSafeguards caution = new ScriptSafeguards(true, false, false, false, Optional.empty(), Optional.empty());
        String script = script("sqlserver", table, new ScriptForm(style, true, false, true, caution), rows);
        List<String> parts = Stream.of(script.split("(?m)^GO\n"))
                .filter(part -> !part.isBlank())
                .toList();
        // The last one gives the session back.
        assertThat(parts).hasSize(style == ScriptForm.Style.ROW ? 4 : 2);
        for (String part : parts.subList(0, parts.size() - 1)) {
            assertThat(part.indexOf("@rows")).isEqualTo(part.indexOf("DECLARE @rows") + "DECLARE ".length());
        }
        for (String part : parts.subList(1, parts.size() - 1)) {
            assertThat(part).startsWith("IF @@TRANCOUNT = 0 SET NOEXEC ON;\n");
        }
        assertThat(script.lines().filter(l -> l.startsWith("BEGIN TRANSACTION") || l.startsWith("COMMIT")))
                .containsExactly("BEGIN TRANSACTION;", "COMMIT TRANSACTION;");
        assertThat(script.lines().filter(l -> l.contains("TRIGGER")))
                .containsExactly(
                        "DISABLE TRIGGER [one] ON [gauge];",
                        "DISABLE TRIGGER [keep].[two] ON [gauge];",
                        "ENABLE TRIGGER [one] ON [gauge];",
                        "ENABLE TRIGGER [keep].[two] ON [gauge];");
        // Through a driver, which knows no parts, it is one.
        assertThat(script("sqlserver", table, new ScriptForm(style, true, false, false, caution), rows))
                .doesNotContain("\nGO\n", "NOEXEC", ":on error");
    }

    /** The client leaves out lines that are too long, and literals end where the server says so. */
    @ParameterizedTest
    @EnumSource
    void longValuesStandInPieces(ScriptForm.Style style) {
        long seed = Long.getLong("sharptally.seed", Long.getLong("sharptally.draw", System.nanoTime()));
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        List<ColumnShape> columns = new ArrayList<>(List.of(column("id", "NUMBER(18,0)", Kind.INTEGER, false)));
        for (int i = 0; i < 300; i++) {
            columns.add(column("column " + i + " - ", "VARCHAR2(4000)", Kind.TEXT, true));
        }
        columns.add(column("image", "BLOB", Kind.BYTES, true));
        columns.add(column("raw", "RAW(2000)", Kind.BYTES, true));
        columns.add(column("words", "NCLOB", Kind.TEXT, true));
        byte[] image = new byte[2_001 + random.nextInt(40_000)];
        byte[] raw = new byte[1_000 + random.nextInt(1_000)];
        random.nextBytes(image);
        random.nextBytes(raw);
        String words = IntStream.range(0, 3_000 + random.nextInt(5_000))
                .mapToObj(i ->
                        List.of("a", "'", "\\", "\n", ";\n", "名", "🌊", " -").get(random.nextInt(8)))
                .collect(Collectors.joining());
        List<Value> row = new ArrayList<>(List.of(new Value.Int(1)));
        for (int i = 0; i < 300; i++) {
            row.add(new Value.Text(i % 2 == 0 ? "short" : "x".repeat(random.nextInt(3_000)) + "-"));
        }
        row.addAll(List.of(new Value.Bytes(image), new Value.Bytes(raw), new Value.Text(words)));
        String script = script("oracle", table(columns), ScriptForm.of(style), List.of(row));
        String story = "seed " + seed + "\n" + script;
        assertThat(script.lines().filter(l -> l.length() > 2_499 || l.endsWith("-") && !l.startsWith("--")))
                .as(story)
                .isEmpty();
        String pieces = Pattern.compile("WRITEAPPEND\\(sharp_tally_0, (\\d+), HEXTORAW\\('([0-9a-f]*)'\\)\\)")
                .matcher(script)
                .results()
                .peek(piece -> assertThat(piece.group(2)).hasSize(2 * Integer.parseInt(piece.group(1))))
                .map(piece -> piece.group(2))
                .collect(Collectors.joining());
        // Once to be looked for, once to be inserted.
        String hex = HexFormat.of().formatHex(image);
        assertThat(pieces).as(story).isEqualTo(hex + hex);
        assertThat(script.replaceAll("'\\s*\\|\\|\\s*'", ""))
                .contains("HEXTORAW('" + HexFormat.of().formatHex(raw) + "')");
        String told = Pattern.compile("TO_NCLOB\\(UNISTR\\('((?:[^']|'')*)'\\)\\)|TO_NCLOB\\('((?:[^']|'')*)'\\)")
                .matcher(script)
                .results()
                .map(LargeScriptsTest::told)
                .collect(Collectors.joining());
        assertThat(told).as(story).isEqualTo(words + words);
    }

    private static String told(MatchResult piece) {
        String text = Optional.ofNullable(piece.group(1)).orElse(piece.group(2)).replace("''", "'");
        return piece.group(1) == null
                ? text
                : Pattern.compile("\\\\([0-9a-f]{4})")
                        .matcher(text)
                        .replaceAll(unit -> java.util.regex.Matcher.quoteReplacement(
                                Character.toString((char) Integer.parseInt(unit.group(1), 16))));
    }

    /** To turn a trigger off ends a transaction there. */
    @Test
    void triggersAreTurnedOffOutsideOfTheTransaction() {
        ScriptSafeguards caution = new ScriptSafeguards(true, false, false, false, Optional.empty(), Optional.empty());
        TableShape table = table(List.of(column("id", "NUMBER(18,0)", Kind.INTEGER, false)));
        String script = script(
                "oracle",
                table,
                new ScriptForm(ScriptForm.Style.ROW, true, false, true, caution),
                List.of(List.of(new Value.Int(1))));
        List<String> order = script.lines()
                .filter(l -> l.contains("TRIGGER") || l.equals("COMMIT;") || l.startsWith("INSERT"))
                .map(l -> l.replaceAll("^INSERT.*", "INSERT"))
                .toList();
        assertThat(order)
                .containsExactly(
                        "ALTER TRIGGER \"one\" DISABLE;",
                        "ALTER TRIGGER \"keep\".\"two\" DISABLE;",
                        "INSERT",
                        "COMMIT;",
                        "ALTER TRIGGER \"one\" ENABLE;",
                        "ALTER TRIGGER \"keep\".\"two\" ENABLE;");
    }
}
