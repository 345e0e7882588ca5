package sharptally.engines.duckdb;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by DuckDB's own aggregates. */
final class DuckTotals implements Totalling {
    private static String name(ColumnShape column) {
        return DuckDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    @Override
    public String exactSum(ColumnShape column) {
        return "SUM(" + name(column) + ")";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "SUM(CAST(" + name(column) + " AS DOUBLE))";
    }

    @Override
    public Optional<String> ordered(ColumnShape column) {
        return Optional.of(distinct(column));
    }

    @Override
    public String fromOrdered(ColumnShape column, String aggregate) {
        return aggregate;
    }

    @Override
    public String distinct(ColumnShape column) {
        return kind(column) == Kind.TEXT ? "CAST(" + name(column) + " AS VARCHAR)" : name(column);
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return grouped;
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.of((kind(column) == Kind.TEXT ? "strlen(" : "octet_length(") + distinct(column) + ")");
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.of("LEFT(strftime(" + name(column) + ", '%Y-%m-%d %H'), " + unit.letters() + ")");
    }
}
