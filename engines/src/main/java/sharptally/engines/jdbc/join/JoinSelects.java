package sharptally.engines.jdbc.join;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.place.part.JoinRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.Selects;

/** Writes the queries that join two tables of one server. */
record JoinSelects(JdbcEngine engine, Joining joining) {
    /**
     * The rows that are distinct, as a query: the columns of the source, then those of the target, then the key as either
     * side has it.
     */
    TableShape joined(JoinRequest request) {
        List<ColumnShape> source = renamed(request.sourceColumns(), "s");
        List<ColumnShape> target = renamed(request.targetColumns(), "t");
        List<ColumnShape> sourceKey = request.key().stream().map(source::get).toList();
        List<ColumnShape> targetKey = request.key().stream().map(target::get).toList();
        String sourceRows =
                rows(request.source(), request.sourceColumns(), source, request.key(), request.range(), "tally_s");
        String targetRows =
                rows(request.target(), request.targetColumns(), target, request.key(), request.range(), "tally_t");
        String on = IntStream.range(0, sourceKey.size())
                .mapToObj(i -> sameKey(sourceKey.get(i), targetKey.get(i)))
                .collect(Collectors.joining(" AND ", " ON ", ""));
        String distinct = IntStream.range(0, request.compared())
                .filter(i -> !request.key().contains(i))
                .mapToObj(i -> " OR " + joining.distinct(source.get(i), target.get(i)))
                .collect(Collectors.joining());
        String noTarget = quote(targetKey.get(0)) + " IS NULL";
        String noSource = quote(sourceKey.get(0)) + " IS NULL";
        List<String> both = new ArrayList<>();
        source.forEach(c -> both.add(quote(c)));
        target.forEach(c -> both.add(quote(c)));
        List<ColumnShape> keys = renamed(sourceKey, "k");
        for (int i = 0; i < keys.size(); i++) {
            both.add("COALESCE(" + quote(sourceKey.get(i)) + ", " + quote(targetKey.get(i)) + ") AS "
                    + quote(keys.get(i)));
        }
        String select = "SELECT " + String.join(", ", both) + " FROM ";
        String query = joining.outer() == Joining.Outer.FULL
                ? select + sourceRows + " FULL JOIN " + targetRows + on + " WHERE " + noSource + " OR " + noTarget
                        + distinct
                : select + sourceRows + " LEFT JOIN " + targetRows + on + " WHERE " + noTarget + distinct
                        + " UNION ALL " + select + targetRows + " LEFT JOIN " + sourceRows + on + " WHERE " + noSource;
        List<ColumnShape> columns = new ArrayList<>(source);
        columns.addAll(target);
        columns.addAll(keys);
        return TableShape.ofQuery(request.source().name(), query, columns);
    }

    /** The columns under names that both sides do not share. */
    private static List<ColumnShape> renamed(List<ColumnShape> columns, String prefix) {
        return IntStream.range(0, columns.size())
                .mapToObj(i -> {
                    ColumnShape c = columns.get(i);
                    return new ColumnShape(
                            "tally_" + prefix + i, c.declaredType(), c.type(), true, Generation.NONE, c.collation());
                })
                .toList();
    }

    private String rows(
            TableShape table,
            List<ColumnShape> columns,
            List<ColumnShape> names,
            List<Integer> key,
            KeyRange range,
            String alias) {
        Selects selects = new Selects(engine);
        String terms = IntStream.range(0, columns.size())
                .mapToObj(i -> quote(columns.get(i)) + " AS " + quote(names.get(i)))
                .collect(Collectors.joining(", "));
        String within = selects.within(key.stream().map(columns::get).toList(), List.of(range));
        return "(SELECT " + terms + " FROM " + selects.from(table, columns, List.of())
                + Optional.of(within)
                        .filter(w -> !w.isEmpty())
                        .map(w -> " WHERE " + w)
                        .orElse("") + ") " + alias;
    }

    /** Equal as the database sees it, so that its index is used, and of the same bytes. */
    private String sameKey(ColumnShape one, ColumnShape other) {
        String equal = quote(one) + " = " + quote(other);
        boolean text = one.type().filter(t -> t.kind() == Kind.TEXT).isPresent();
        return text ? equal + " AND " + joining.same(one, other) : equal;
    }

    private String quote(ColumnShape column) {
        return engine.terms().quote(column.name());
    }
}
