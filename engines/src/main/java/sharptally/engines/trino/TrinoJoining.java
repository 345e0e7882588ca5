package sharptally.engines.trino;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.join.Joining;

/** Joins tables of one Trino, of any catalogue. */
final class TrinoJoining implements Joining {
    private final TrinoDialect dialect = new TrinoDialect();

    @Override
    public String instance() {
        return "SELECT min(node_id) FROM system.runtime.nodes WHERE coordinator";
    }

    @Override
    public Outer outer() {
        return Outer.FULL;
    }

    @Override
    public Optional<String> reader() {
        return Optional.of("SELECT current_user");
    }

    @Override
    public Optional<String> names() {
        return Optional.of("SELECT coalesce(current_catalog, '') || '.' || coalesce(current_schema, '')");
    }

    /** No key is declared in Trino; the other side's is looked at by what comes of the join. */
    @Override
    public Optional<String> unique(TableShape table, List<ColumnShape> key) {
        if (table.query().isPresent()
                || Joining.hasOwnSql(table, key)
                || !table.filters().isEmpty()) {
            return Optional.empty();
        }
        String columns = key.stream().map(c -> TrinoDialect.quoted(c.name())).collect(Collectors.joining(", "));
        String filled = key.stream()
                .map(c -> TrinoDialect.quoted(c.name()) + " IS NOT NULL")
                .collect(Collectors.joining(" AND "));
        return Optional.of("SELECT CAST(CAST(count(*) = count(DISTINCT ROW(" + columns + ")) AND coalesce(bool_and("
                + filled + "), true) AS integer) AS varchar) FROM " + dialect.rowsOf(table));
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return "true";
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return form(one) + " IS DISTINCT FROM " + form(other);
    }

    private static String form(ColumnShape column) {
        return switch (TrinoReading.kind(column)) {
            case JSON, OTHER -> TrinoReading.asText(column);
            default -> TrinoDialect.quoted(column.name());
        };
    }
}
