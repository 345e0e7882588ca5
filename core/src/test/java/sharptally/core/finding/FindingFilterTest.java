package sharptally.core.finding;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import sharptally.core.fault.ToolException;
import sharptally.core.match.MatchPlanner;
import sharptally.core.match.TableMatch;
import sharptally.core.match.request.MatchRequest;
import sharptally.core.match.text.Glob;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Which findings of a small table each condition, range and column chooses. */
class FindingFilterTest {
    private static final TableMatch MATCH = match();

    private static TableMatch match() {
        List<ColumnShape> columns = List.of(
                column("id", Kind.INTEGER, false),
                column("level_m", Kind.DECIMAL, true),
                column("remark", Kind.TEXT, true));
        TableShape table = new TableShape(
                TableName.of("reading"), false, columns, List.of(new KeyShape(true, List.of("id"))), List.of(), false);
        return MatchPlanner.plan(table, table, MatchRequest.ofTables("reading", "reading", List.of(), List.of()));
    }

    private static ColumnShape column(String name, Kind kind, boolean nullable) {
        return new ColumnShape(
                name, kind.name(), Optional.of(CanonicalType.of(kind)), nullable, Generation.NONE, Optional.empty());
    }

    private static Value level(String text) {
        return new Value.Decimal(new BigDecimal(text));
    }

    private static List<Value> key(long id) {
        return List.of(new Value.Int(id));
    }

    private static final List<Finding> FINDINGS = List.of(
            new Finding.Missing(
                    key(1), List.of(new Value.Int(1), level("1.50"), new Value.Text("gauge log")), 1, false),
            new Finding.Extra(key(2), List.of(new Value.Int(2), level("9"), Value.NULL), 1, false),
            new Finding.Changed(key(3), key(3), List.of(new Difference(1, level("4"), level("-4")))),
            new Finding.Changed(
                    key(12),
                    key(12),
                    List.of(
                            new Difference(1, level("10"), Value.NULL),
                            new Difference(2, new Value.Text("Gap"), new Value.Text("gap ")))));

    private static List<String> chosen(FindingFilter filter) {
        return FINDINGS.stream()
                .flatMap(f -> filter.chosen(MATCH, f).stream())
                .map(f -> f.key().get(0)
                        + (f instanceof Finding.Changed c
                                ? "/" + c.differences().size()
                                : ""))
                .toList();
    }

    private static FindingFilter with(String range, String column, String... conditions) {
        return new FindingFilter(
                TableFilter.ALL,
                Set.of(),
                column.isEmpty() ? Set.of() : Set.of(column),
                Set.of(),
                range.isEmpty() ? Optional.empty() : Optional.of(range),
                List.of(conditions).stream().map(ValueCondition::parse).toList(),
                List.of());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "level_m > 3.9                | 2 3/1 12/2",
                "source.level_m>3.9           | 3/1 12/2",
                "target.level_m <= -4.000     | 3/1",
                "level_m = 1.5                | 1",
                "level_m != 9                 | 1 3/1 12/2",
                "Level_M is null              | 12/2",
                "target.remark is null        | 2",
                "remark is not null           | 1 12/2",
                "remark ~ g*                  | 1 12/2",
                "remark = 'gap '              | 12/2",
                "id < 12                      | 1 2 3/1",
                "id >= 12                     | 12/2",
                "source.id = 2                | ''",
            })
    void conditionChooses(String condition, String expected) {
        assertThat(String.join(" ", chosen(with("", "", condition)))).isEqualTo(expected);
    }

    @Test
    void rangesColumnsKindsAndTablesChoose() {
        assertThat(chosen(with("2..12", ""))).containsExactly("2", "3/1");
        assertThat(chosen(with("..2", ""))).containsExactly("1");
        assertThat(chosen(with("", "REMARK"))).containsExactly("12/1");
        assertThat(chosen(with("3..", "level_m", "id != 3"))).containsExactly("12/1");
        assertThat(chosen(new FindingFilter(
                        new TableFilter(List.of(new Glob("READ*")), List.of(new Glob("log*")), List.of()),
                        Set.of(FindingKind.MISSING, FindingKind.EXTRA),
                        Set.of(),
                        Set.of("2"),
                        Optional.empty(),
                        List.of(),
                        List.of())))
                .containsExactly("2");
        assertThat(chosen(FindingFilter.ALL)).hasSize(FINDINGS.size());
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "level_m", "level_m >", "= 3", "level_m like 3", "level_m is nil"})
    void whatIsNoConditionIsRefused(String text) {
        assertThatThrownBy(() -> {
                    FindingFilter filter = with("", "", text);
                    filter.check(List.of(MATCH));
                    chosen(filter);
                })
                .isInstanceOf(ToolException.class);
    }

    @Test
    void whatTheRunDoesNotHaveIsRefused() {
        for (FindingFilter filter : List.of(
                with("", "nothing"), with("", "", "nothing = 3"), with("a..b", ""), with("1,2..", ""), with("3", ""))) {
            assertThatThrownBy(() -> filter.check(List.of(MATCH))).isInstanceOf(ToolException.class);
        }
        assertThatThrownBy(() -> chosen(with("", "", "level_m > much"))).isInstanceOf(ToolException.class);
    }

    @Test
    void reversedTwiceIsTheSame() {
        for (Finding finding : FINDINGS) {
            assertThat(finding.reversed(3).reversed(3)).isEqualTo(finding);
        }
        assertThat(MATCH.reversed().reversed()).isEqualTo(MATCH);
    }
}
