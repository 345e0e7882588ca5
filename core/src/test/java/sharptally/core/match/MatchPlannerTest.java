package sharptally.core.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import sharptally.core.match.request.ColumnChoice;
import sharptally.core.match.request.LeftOutColumns;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.request.PairRequest;
import sharptally.core.place.Extract;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;

class MatchPlannerTest {
    private static final MatchRequest NOTHING_SAID = MatchRequest.ofTables("t", "t", List.of(), List.of());

    /** A column as {@code name:kind}, or {@code name:kind?} where it may be NULL. */
    private static ColumnShape column(String text) {
        String[] parts = text.replace("?", "").split(":");
        Kind kind = Kind.valueOf(parts[1].replaceAll("\\(.*", "").toUpperCase());
        CanonicalType type = kind == Kind.OTHER ? CanonicalType.other("x", parts[0]) : CanonicalType.of(kind);
        return new ColumnShape(
                parts[0], parts[1], Optional.of(type), text.endsWith("?"), Generation.NONE, Optional.empty());
    }

    private static TableShape table(List<KeyShape> keys, String... columns) {
        return new TableShape(
                TableName.of("t"),
                false,
                Arrays.stream(columns).map(MatchPlannerTest::column).toList(),
                keys,
                List.of(),
                false);
    }

    private static List<String> key(TableMatch match) {
        return match.keyPairs().stream().map(ColumnPair::name).toList();
    }

    @Test
    void tablesArePairedByNameUnlessInDoubt() {
        var pairs = TablePairs.byName(
                List.of(TableName.of("Station"), TableName.of("reading"), TableName.of("log"), TableName.of("old")),
                "public",
                List.of(
                        TableName.of("STATION"),
                        TableName.of("READING"),
                        TableName.of("reading"),
                        TableName.of("LOG"),
                        TableName.of("Log")),
                "PUBLIC");
        assertThat(pairs.pairs())
                .containsExactly(
                        List.of(TableName.of("Station"), TableName.of("STATION")),
                        List.of(TableName.of("reading"), TableName.of("reading")));
        assertThat(pairs.sourceOnly()).containsExactly(TableName.of("log"), TableName.of("old"));
        assertThat(pairs.targetOnly()).contains(TableName.of("READING"), TableName.of("LOG"), TableName.of("Log"));
    }

    @Test
    void bestKeyOfEitherSideIsTaken() {
        KeyShape primary = new KeyShape(true, List.of("b", "a"));
        KeyShape unique = new KeyShape(false, List.of("a"));
        KeyShape loose = new KeyShape(false, List.of("c"));
        String[] columns = {"a:integer", "b:text", "c:text?"};
        TableShape bare = table(List.of(), columns);
        assertThat(key(MatchPlanner.plan(table(List.of(primary, unique), columns), bare, NOTHING_SAID)))
                .as("in the order of the key, not of the columns")
                .containsExactly("b", "a");
        assertThat(key(MatchPlanner.plan(bare, table(List.of(unique), columns), NOTHING_SAID)))
                .containsExactly("a");
        assertThat(key(MatchPlanner.plan(
                        table(List.of(loose), columns), table(List.of(unique), columns), NOTHING_SAID)))
                .as("a key that may be NULL comes last")
                .containsExactly("a");
        TableMatch none = MatchPlanner.plan(bare, bare, NOTHING_SAID);
        assertThat(none.wholeRow()).isTrue();
        assertThat(none.notes()).containsExactly(new MatchNote.NoKey(List.of()));
        TableMatch lost =
                MatchPlanner.plan(table(List.of(primary), columns), table(List.of(), "a:integer"), NOTHING_SAID);
        assertThat(lost.wholeRow())
                .as("a key that one side lacks a column of is none")
                .isTrue();
    }

    @Test
    void whatIsLeftOutOrCannotBeComparedIsSaid() {
        TableShape source = table(List.of(), "a:integer", "b:text", "c:bytes", "d:other", "only:text");
        TableShape target = table(List.of(), "a:integer", "b:text", "c:integer", "d:other", "extra:text");
        TableMatch match = MatchPlanner.plan(
                source, target, MatchRequest.ofTables("t", "t", List.of("a"), List.of(new ColumnChoice("b"))));
        assertThat(match.pairs()).extracting(ColumnPair::name).containsExactly("a", "d");
        assertThat(match.differences())
                .containsExactly(
                        new ShapeDifference.Incomparable("c", "bytes", "integer"),
                        new ShapeDifference.OnOneSide(Side.SOURCE, "only"),
                        new ShapeDifference.OnOneSide(Side.TARGET, "extra"));
        assertThat(match.comparesAll()).isFalse();
        assertThat(match.notes()).contains(new MatchNote.LeftOut("b"));
        assertThat(match.leftOut()).containsExactly("b");
        assertThat(match.reversed().differences())
                .contains(
                        new ShapeDifference.Incomparable("c", "integer", "bytes"),
                        new ShapeDifference.OnOneSide(Side.TARGET, "only"));
        assertThat(match.targetOnly()).extracting(ColumnShape::name).containsExactly("b", "c", "extra");
    }

    @Test
    void shapesThatDifferAreTold() {
        TableShape source = table(List.of(), "a:integer", "b:text(20)", "c:text?", "d:text");
        TableShape target = table(List.of(), "b:text(10)", "a:decimal", "c:text", "d:text");
        TableMatch match = MatchPlanner.plan(source, target, NOTHING_SAID);
        assertThat(match.differences())
                .containsExactly(
                        new ShapeDifference.Type("a", "integer", "decimal", Kind.DECIMAL),
                        new ShapeDifference.Length("b", 20, 10),
                        new ShapeDifference.Nullability("c", Side.SOURCE),
                        new ShapeDifference.Order());
        assertThat(match.reversed().reversed()).as("seen from both sides").isEqualTo(match);
    }

    @Test
    void namesThatAreNotThereAreAllToldAtOnce() {
        TableShape table = table(List.of(), "a:integer");
        MatchRequest wish = new MatchRequest(
                Optional.empty(),
                Extract.ofTable("t"),
                Extract.ofTable("t"),
                List.of("k"),
                List.of(new PairRequest("x", "y", Map.of())),
                LeftOutColumns.of(List.of(new ColumnChoice("z"))),
                List.of(),
                false);
        assertThatThrownBy(() -> MatchPlanner.plan(table, table, wish))
                .hasMessage("4 problems\n  no such column: t.k (there are a)\n  no such column: t.x (there are a)\n"
                        + "  no such column: t.y (there are a)\n  no such column: t.z (there are a)");
        assertThatThrownBy(() -> MatchPlanner.plan(table, table(List.of(), "b:integer"), NOTHING_SAID))
                .hasMessageContaining("no column of the one table has a counterpart in the other");
    }
}
