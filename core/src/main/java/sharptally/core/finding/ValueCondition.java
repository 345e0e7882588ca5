package sharptally.core.finding;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.match.text.Nearest;
import sharptally.core.match.text.TypedText;
import sharptally.core.place.Side;
import sharptally.core.rows.KeyOrder;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.RowFilter.Comparison;
import sharptally.core.types.Value;

/**
 * A condition on a value of a finding: {@code [source.|target.]COLUMN OPERATOR VALUE}, such as {@code level_m > 5} or
 * {@code target.remark is null}. Without a side, it is met when either side's value meets it. A column that a finding does
 * not tell of, such as one that is the same on both sides of a changed row and too long to be kept, meets no condition.
 *
 * @param side the side whose value counts; empty for either
 * @param operator one of {@code = != < <= > >= ~}, where {@code ~} is like {@code =} with {@code *} for any letters, or
 *     {@code is null} or {@code is not null}
 */
public record ValueCondition(Optional<Side> side, String column, String operator, String value) {
    private static final Pattern FORM = Pattern.compile(
            "\\s*(?:(source|target)\\.)?(.+?)\\s*(?:(!=|<>|<=|>=|=|<|>|~)\\s*(.*?)|\\s(is\\s+null|is\\s+not\\s+null))\\s*",
            Pattern.CASE_INSENSITIVE | Pattern.DOTALL);

    /**
     * @throws ToolException when the text is no condition
     */
    public static ValueCondition parse(String text) {
        Matcher m = FORM.matcher(text);
        if (!m.matches()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not a condition",
                    text,
                    "write COLUMN OPERATOR VALUE, such as 'level_m > 5', 'source.remark ~ gauge*' or 'remark is null'");
        }
        Optional<Side> side =
                Optional.ofNullable(m.group(1)).map(s -> Side.valueOf(s.toUpperCase(java.util.Locale.ROOT)));
        String operator = m.group(3) != null
                ? m.group(3).replace("<>", "!=")
                : m.group(5).toLowerCase(java.util.Locale.ROOT).replaceAll("\\s+", " ");
        String value = m.group(3) == null ? "" : m.group(4).replaceAll("(?s)^(['\"])(.*)\\1$", "$2");
        return new ValueCondition(side, m.group(2), operator, value);
    }

    /**
     * The rows of one side of a match that meet it.
     *
     * @throws ToolException when a database can't be asked for them
     */
    public RowFilter of(TableMatch match, Side at) {
        if (side.isPresent()) {
            throw refused("rows are chosen on both sides alike", "write the column without " + side.get());
        }
        ColumnPair pair = match.pairs().stream()
                .filter(this::names)
                .findFirst()
                .orElseThrow(() -> refused(
                        "no such column among those that are compared in " + match.name(),
                        Nearest.hint(
                                column,
                                match.pairs().stream().map(ColumnPair::name).toList(),
                                "compared are: ")));
        ColumnShape shape = at == Side.SOURCE ? pair.source() : pair.target();
        if (shape.expression().isPresent()) {
            throw refused("the column is computed by the job file", "use a condition in SQL");
        }
        if (operator.startsWith("is ")) {
            return new RowFilter.Null(shape, operator.equals("is not null"));
        }
        Comparison comparison = Comparison.of(operator)
                .orElseThrow(() -> refused(
                        "~ is for findings: databases do not agree on letter case there",
                        "use a condition in SQL, with LIKE"));
        return new RowFilter.Compared(shape, comparison, TypedText.value(shape, value));
    }

    /** The condition as it may be written. */
    public String text() {
        String start = side.map(s -> s + ".").orElse("") + column + " " + operator;
        return operator.startsWith("is ") ? start : start + " '" + value + "'";
    }

    private ToolException refused(String what, String mend) {
        return new ToolException(ErrorKind.USAGE, what, column + " " + operator + " " + value, mend);
    }

    /** Whether the match has the column. */
    public boolean isOf(TableMatch match) {
        return match.pairs().stream().anyMatch(this::names)
                || match.targetOnly().stream().anyMatch(c -> c.name().equalsIgnoreCase(column));
    }

    /**
     * @throws ToolException when a column of this name can't hold such a value
     */
    void check(TableMatch match) {
        if (operator.equals("~") || operator.startsWith("is ")) {
            return;
        }
        Stream.concat(match.pairs().stream(), match.keyPairs().stream())
                .filter(this::names)
                .flatMap(p -> Stream.of(p.source(), p.target()))
                .forEach(c -> TypedText.value(c, value));
    }

    private boolean names(ColumnPair pair) {
        return pair.source().name().equalsIgnoreCase(column)
                || pair.target().name().equalsIgnoreCase(column);
    }

    /**
     * @throws ToolException when the column can't hold such a value
     */
    boolean isMet(TableMatch match, Finding finding) {
        return Stream.of(Side.values())
                .filter(s -> side.isEmpty() || side.get() == s)
                .flatMap(s -> values(match, finding, s))
                .anyMatch(cell -> meets(cell.column, cell.value));
    }

    private record Cell(ColumnShape column, Value value) {}

    private Stream<Cell> values(TableMatch match, Finding finding, Side of) {
        Function<ColumnPair, ColumnShape> shape = of == Side.SOURCE ? ColumnPair::source : ColumnPair::target;
        if (finding instanceof Finding.Changed changed) {
            List<Value> key = of == Side.SOURCE ? changed.key() : changed.targetKey();
            Stream<Cell> ofKey = java.util.stream.IntStream.range(0, key.size())
                    .filter(i -> names(match.keyPairs().get(i)))
                    .mapToObj(i -> new Cell(shape.apply(match.keyPairs().get(i)), key.get(i)));
            return Stream.concat(
                    ofKey,
                    Stream.concat(changed.differences().stream(), changed.same().stream())
                            .filter(d -> names(match.pairs().get(d.pair())))
                            .map(d -> new Cell(
                                    shape.apply(match.pairs().get(d.pair())),
                                    of == Side.SOURCE ? d.source() : d.target())));
        }
        boolean here = of == Side.SOURCE ? finding instanceof Finding.Missing : finding instanceof Finding.Extra;
        if (!here) {
            return Stream.empty();
        }
        List<ColumnShape> columns = of == Side.SOURCE ? match.sourceColumns() : match.targetColumns();
        List<Value> row = finding instanceof Finding.Missing missing ? missing.row() : ((Finding.Extra) finding).row();
        return java.util.stream.IntStream.range(0, row.size())
                .filter(i -> i < match.pairs().size()
                        ? names(match.pairs().get(i))
                        : columns.get(i).name().equalsIgnoreCase(column))
                .mapToObj(i -> new Cell(columns.get(i), row.get(i)));
    }

    private boolean meets(ColumnShape of, Value held) {
        boolean none = held instanceof Value.Null;
        if (operator.startsWith("is ")) {
            return none == operator.equals("is null");
        }
        if (none) {
            return false;
        }
        if (operator.equals("~")) {
            return new Glob(value).matches(held.toString());
        }
        int c = KeyOrder.ASCENDING.compare(List.of(held), List.of(TypedText.value(of, value)));
        return Comparison.of(operator).orElseThrow().holds(c);
    }
}
