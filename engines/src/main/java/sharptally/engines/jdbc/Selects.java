package sharptally.engines.jdbc;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlText;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.sums.Hashing;
import sharptally.engines.jdbc.sums.Totalling;

/**
 * Writes the queries that read rows and totals. Queries, conditions and expressions of the user stand each on a line
 * of its own within brackets, so that a comment at their end does no harm.
 *
 * @param ours whether queries that stand in the place of a table were written here, and so may hold any value as a literal
 */
public record Selects(JdbcEngine engine, boolean ours) {
    private static final String NULLS_FIRST = " NULLS FIRST";

    /** Of what users give. */
    public Selects(JdbcEngine engine) {
        this(engine, false);
    }

    /** The rows that are asked for, in their order. */
    String rows(ReadRequest request) {
        Reading terms = engine.reading();
        StringBuilder sql = new StringBuilder("SELECT ")
                .append(request.columns().stream().map(terms::selectTerm).collect(Collectors.joining(", ")))
                .append(" FROM ")
                .append(from(request.table(), request.columns(), request.orderBy()));
        List<String> conditions = new ArrayList<>();
        if (!request.ranges().isEmpty()) {
            conditions.add(within(request.orderBy(), request.ranges()));
        }
        if (!request.after().isEmpty()) {
            conditions.add(behind(request.orderBy(), request.after()));
        }
        conditions.removeIf(String::isEmpty);
        if (!conditions.isEmpty()) {
            sql.append(" WHERE ").append(String.join(" AND ", conditions));
        }
        if (!request.orderBy().isEmpty()) {
            sql.append(request.orderBy().stream()
                    .map(terms::orderTerm)
                    .collect(Collectors.joining(", ", " ORDER BY ", "")));
        }
        return request.limit().isPresent()
                ? terms.limited(sql.toString(), request.limit().getAsLong(), request.skip())
                : sql.toString();
    }

    /** Every n-th key of a request, found in one pass over all its keys. */
    String bounds(ReadRequest keys, long rowsPerRange) {
        Reading terms = engine.reading();
        String order = keys.orderBy().stream().map(terms::orderTerm).collect(Collectors.joining(", "));
        String names = keys.columns().stream().map(this::quote).collect(Collectors.joining(", "));
        String condition = within(keys.orderBy(), keys.ranges());
        String numbered = "SELECT " + names + ", ROW_NUMBER() OVER (ORDER BY " + order + ") AS tally_row FROM "
                + from(keys.table(), keys.columns(), List.of()) + (condition.isEmpty() ? "" : " WHERE " + condition);
        return "SELECT " + names + " FROM (" + numbered + ") tally_keys WHERE "
                + engine.terms().remainder("tally_row", rowsPerRange) + " = 1 AND tally_row > 1";
    }

    /** Some of the keys of a request, in any order. */
    String some(ReadRequest keys, String byChance) {
        String names = keys.columns().stream().map(this::quote).collect(Collectors.joining(", "));
        String condition = within(keys.orderBy(), keys.ranges());
        return "SELECT " + names + " FROM " + from(keys.table(), keys.columns(), List.of()) + " WHERE "
                + (condition.isEmpty() ? "" : condition + " AND ") + byChance;
    }

    /** The last key of a request. */
    String last(ReadRequest keys) {
        Reading terms = engine.reading();
        String order = keys.orderBy().stream()
                .map(terms::orderTerm)
                .map(term -> term.endsWith(NULLS_FIRST)
                        ? term.substring(0, term.length() - NULLS_FIRST.length()) + " DESC NULLS LAST"
                        : term + " DESC")
                .collect(Collectors.joining(", "));
        String names = keys.columns().stream().map(this::quote).collect(Collectors.joining(", "));
        String condition = within(keys.orderBy(), keys.ranges());
        return terms.limited(
                "SELECT " + names + " FROM " + from(keys.table(), keys.columns(), List.of())
                        + (condition.isEmpty() ? "" : " WHERE " + condition) + " ORDER BY " + order,
                1,
                0);
    }

    /** The number of rows in a range. */
    public String count(TableShape table, List<ColumnShape> key, KeyRange range) {
        String condition = within(key, List.of(range));
        return "SELECT COUNT(*) FROM " + from(table, key, List.of())
                + (condition.isEmpty() ? "" : " WHERE " + condition);
    }

    /** The condition that a key is in one of some ranges; empty when any key is. */
    public String within(List<ColumnShape> key, List<KeyRange> ranges) {
        if (ranges.isEmpty() || ranges.stream().anyMatch(KeyRange::holdsAll)) {
            return "";
        }
        return ranges.stream().map(r -> within(key, r)).collect(Collectors.joining(" OR ", "(", ")"));
    }

    /** Columns in which both ends are equal are told once, so that an index on them all is used to the full. */
    private String within(List<ColumnShape> key, KeyRange range) {
        List<Value> from = range.from();
        List<Value> to = range.to();
        if (range.holdsOne()) {
            return IntStream.range(0, from.size())
                    .mapToObj(i -> is(key.get(i), "=", from.get(i)))
                    .collect(Collectors.joining(" AND ", "(", ")"));
        }
        if (from.size() > 1 && to.size() > 1 && from.get(0).equals(to.get(0))) {
            KeyRange rest = new KeyRange(from.subList(1, from.size()), to.subList(1, to.size()));
            return is(key.get(0), "=", from.get(0)) + " AND " + within(key.subList(1, key.size()), rest);
        }
        List<String> ends = new ArrayList<>();
        if (!from.isEmpty()) {
            ends.add(atLeast(key, from));
        }
        if (!to.isEmpty()) {
            ends.add(below(key, to));
        }
        return String.join(" AND ", ends);
    }

    private String is(ColumnShape column, String operator, Value value) {
        return engine.reading().compared(column, operator, engine.terms().literal(value, column));
    }

    private String meets(ColumnShape column, String operator, Value value) {
        return engine.reading().meets(column, operator, engine.terms().literal(value, column));
    }

    private String atLeast(List<ColumnShape> key, List<Value> from) {
        ColumnShape first = key.get(0);
        if (from.size() == 1) {
            return is(first, ">=", from.get(0));
        }
        if (isServedWhole(key, from.size())) {
            return is(first, ">=", from.get(0)) + " AND " + row(key, ">=", from);
        }
        return is(first, ">=", from.get(0)) + " AND (" + is(first, ">", from.get(0)) + " OR "
                + atLeast(key.subList(1, key.size()), from.subList(1, from.size())) + ")";
    }

    private boolean isServedWhole(List<ColumnShape> key, int size) {
        return engine.reading().indexServesRows()
                && key.subList(0, size).stream().noneMatch(ColumnShape::nullable);
    }

    private String row(List<ColumnShape> key, String operator, List<Value> values) {
        Stream<String> terms = key.stream().limit(values.size()).map(engine.reading()::orderTerm);
        Stream<String> literals =
                IntStream.range(0, values.size()).mapToObj(i -> engine.terms().literal(values.get(i), key.get(i)));
        return terms.collect(Collectors.joining(", ", "(", ") "))
                + operator
                + literals.collect(Collectors.joining(", ", " (", ")"));
    }

    /** NULL comes before all values. */
    public String below(List<ColumnShape> key, List<Value> to) {
        ColumnShape first = key.get(0);
        if (to.size() > 1 && isServedWhole(key, to.size())) {
            // How many rows that holds for is guessed by the first column alone.
            return is(first, "<=", to.get(0)) + " AND " + row(key, "<", to);
        }
        String condition = to.size() == 1
                ? is(first, "<", to.get(0))
                : is(first, "<=", to.get(0)) + " AND (" + is(first, "<", to.get(0)) + " OR "
                        + below(key.subList(1, key.size()), to.subList(1, to.size())) + ")";
        return first.nullable() ? "(" + quote(first) + " IS NULL OR " + condition + ")" : condition;
    }

    /** What stands behind FROM, so that the columns go by their names there. */
    public String from(TableShape table, List<ColumnShape> columns, List<ColumnShape> furtherColumns) {
        Set<ColumnShape> all = new LinkedHashSet<>(columns);
        all.addAll(furtherColumns);
        boolean computed = all.stream().anyMatch(c -> c.expression().isPresent());
        if (!computed && table.filters().isEmpty()) {
            return base(table);
        }
        String terms = all.stream()
                .map(c -> c.expression()
                        .map(e -> "(" + Fragment.checked(engine, e) + "\n) AS " + quote(c))
                        .orElse(quote(c)))
                .collect(Collectors.joining(", "));
        return "(SELECT " + (terms.isEmpty() ? "1 AS one" : terms) + " FROM " + base(table)
                + (table.filters().isEmpty()
                        ? ""
                        : table.filters().stream()
                                .map(this::filter)
                                .collect(Collectors.joining(" AND ", " WHERE ", "")))
                + ") tally_rows";
    }

    private String filter(RowFilter filter) {
        if (filter instanceof RowFilter.Condition condition) {
            return "(" + Fragment.checked(engine, condition.text()) + "\n)";
        } else if (filter instanceof RowFilter.Null none) {
            return quote(none.column()) + (none.held() ? " IS NOT NULL" : " IS NULL");
        } else if (filter instanceof RowFilter.Compared compared) {
            ColumnShape column = compared.column();
            Value value = compared.value();
            // By the order of keys, which holds for letter case and padding as well.
            return switch (compared.comparison()) {
                case EQUAL -> meets(column, ">=", value) + " AND " + meets(column, "<=", value);
                case OTHER -> "(" + meets(column, "<", value) + " OR " + meets(column, ">", value) + ")";
                case LESS, AT_MOST, AT_LEAST, MORE ->
                    meets(column, compared.comparison().sign(), value);
            };
        }
        if (filter instanceof RowFilter.Partition partition) {
            return partition(partition);
        }
        RowFilter.Sample sample = (RowFilter.Sample) filter;
        Hashing hashing = engine.hashing().orElseThrow();
        return hashing.masked(hashing.common(SumsRequest.Hashed.of(sample)), sample.ofShares()) + " < "
                + sample.shares();
    }

    /** Whether a value is there stands by itself, as what is asked of NULL is neither true nor false. */
    private String partition(RowFilter.Partition partition) {
        ColumnShape column = partition.column();
        List<String> spans = new ArrayList<>();
        for (RowFilter.Span span : partition.spans()) {
            List<String> ends = new ArrayList<>();
            span.from().ifPresent(from -> ends.add(meets(column, ">=", from)));
            span.to().ifPresent(to -> ends.add(meets(column, span.end().sign(), to)));
            spans.add(ends.isEmpty() ? "1 = 1" : String.join(" AND ", ends));
        }
        String within = String.join(" OR ", spans);
        String inside = within.isEmpty() ? "1 = 0" : within;
        String known = partition.others() ? "NOT (" + inside + ")" : "(" + inside + ")";
        return partition.nulls() == partition.others()
                ? "(" + quote(column) + " IS NOT NULL AND " + known + ")"
                : "(" + quote(column) + " IS NULL OR " + known + ")";
    }

    private String base(TableShape table) {
        return table.query()
                .map(q -> "(" + (ours ? q : Fragment.checked(engine, q)) + "\n) tally_query")
                .orElseGet(() -> engine.terms().rowsOf(table));
    }

    public String quote(ColumnShape column) {
        return quoted(column.name());
    }

    private String quoted(String name) {
        return engine.terms().quote(name);
    }

    /** The condition of rows that come after a key: later in its first column, or equal there and later in the rest. */
    private String behind(List<ColumnShape> order, List<Value> key) {
        ColumnShape first = order.get(0);
        String later = is(first, ">", key.get(0));
        if (order.size() == 1) {
            return later;
        }
        var equal = new SqlText.Builder();
        engine.terms().appendHolds(equal, first, key.get(0));
        return "(" + later + " OR " + equal.build().render(engine.terms()::literal) + " AND "
                + behind(order.subList(1, order.size()), key.subList(1, key.size())) + ")";
    }

    /** Keys that stand in several rows, with the number of rows behind. */
    public TableShape repeated(TableShape table, List<ColumnShape> key) {
        List<TotalsRequest.Group> groups = key.stream()
                .map(c -> new TotalsRequest.Group(c, Optional.empty()))
                .toList();
        return totals(
                new TotalsRequest(table, groups, List.of(new TotalsRequest.Term(Measure.ROWS, Optional.empty(), true))),
                " HAVING COUNT(*) > 1");
    }

    /** The totals as a query and what its columns are. */
    public TableShape totals(TotalsRequest request) {
        return totals(request, "");
    }

    private TableShape totals(TotalsRequest request, String having) {
        List<ColumnShape> columns = new ArrayList<>();
        List<String> inner = new ArrayList<>();
        List<String> outer = new ArrayList<>();
        List<String> groupBy = new ArrayList<>();
        for (TotalsRequest.Group group : request.by()) {
            String name = "g" + (columns.size() + 1);
            String term = groupTerm(request.table(), group);
            groupBy.add(term);
            inner.add(term + " AS " + quoted(name));
            ColumnShape column = group.column();
            outer.add(
                    group.unit().isPresent()
                            ? quoted(name)
                            : engine.totalling().fromDistinct(column, quoted(name)) + " AS " + quoted(name));
            columns.add(group.unit().isPresent() ? figure(name, Kind.TEXT, "VARCHAR") : named(column, name));
        }
        for (TotalsRequest.Term term : request.terms()) {
            String name = "m" + (columns.size() + 1);
            inner.add(aggregate(request.table(), term) + " AS " + quoted(name));
            outer.add(quoted(name));
            columns.add(result(term, name));
        }
        List<ColumnShape> used = new ArrayList<>();
        request.by().forEach(g -> used.add(g.column()));
        request.terms().forEach(t -> t.column().ifPresent(used::add));
        String query = "SELECT " + String.join(", ", outer) + " FROM (SELECT " + String.join(", ", inner) + " FROM "
                + from(request.table(), used, List.of())
                + (groupBy.isEmpty() ? "" : " GROUP BY " + String.join(", ", groupBy)) + having + ") tally_figures";
        return TableShape.ofQuery(TableName.of(request.table().name().name()), query, columns);
    }

    private String groupTerm(TableShape table, TotalsRequest.Group group) {
        return group.unit().isEmpty()
                ? engine.totalling().distinct(group.column())
                : engine.totalling()
                        .span(group.column(), group.unit().get())
                        .orElseThrow(() ->
                                notOffered("group by " + group.unit().get().word(), table, group.column()));
    }

    private String aggregate(TableShape table, TotalsRequest.Term term) {
        if (term.column().isEmpty()) {
            return "COUNT(*)";
        }
        ColumnShape column = term.column().get();
        Totalling how = engine.totalling();
        return switch (term.measure()) {
            case ROWS -> "COUNT(*)";
            case FILLED -> "COUNT(" + quote(column) + ")";
            case DISTINCT -> "COUNT(DISTINCT " + how.distinct(column) + ")";
            case SUM ->
                term.absolute()
                        ? how.absoluteSum(column)
                        : term.exact() ? how.exactSum(column) : how.floatingSum(column);
            case MIN -> least("MIN", table, column);
            case MAX -> least("MAX", table, column);
            case MEAN -> throw new IllegalStateException("the mean is worked out of sum and filled");
            case LENGTH -> "SUM(" + how.length(column).orElseThrow(() -> notOffered("length", table, column)) + ")";
        };
    }

    private String least(String word, TableShape table, ColumnShape column) {
        String ordered = engine.totalling()
                .ordered(column)
                .orElseThrow(() -> notOffered(word.toLowerCase(java.util.Locale.ROOT), table, column));
        return engine.totalling().fromDistinct(column, word + "(" + ordered + ")");
    }

    private ToolException notOffered(String what, TableShape table, ColumnShape column) {
        return new ToolException(
                ErrorKind.USAGE,
                engine.name() + " has no form of " + what + " that other engines share",
                table.name() + "." + column.name() + " (" + column.declaredType() + ")",
                "leave it out, or compute it by an expression in a job file");
    }

    private static ColumnShape result(TotalsRequest.Term term, String name) {
        return switch (term.measure()) {
            case MIN, MAX -> named(term.column().orElseThrow(), name);
            case SUM -> term.exact() ? figure(name, Kind.DECIMAL, "NUMERIC") : figure(name, Kind.DOUBLE, "DOUBLE");
            // Databases sum lengths as decimals or as whole numbers.
            case LENGTH -> figure(name, Kind.DECIMAL, "NUMERIC");
            default -> figure(name, Kind.INTEGER, "bigint");
        };
    }

    private static ColumnShape named(ColumnShape column, String name) {
        return new ColumnShape(name, column.declaredType(), column.type(), true, Generation.NONE, column.collation());
    }

    private static ColumnShape figure(String name, Kind kind, String declared) {
        return new ColumnShape(
                name, declared, Optional.of(CanonicalType.of(kind)), true, Generation.NONE, Optional.empty());
    }
}
