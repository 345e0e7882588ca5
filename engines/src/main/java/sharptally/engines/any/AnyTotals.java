package sharptally.engines.any;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by the aggregates of the standard; what differs between databases is not offered. */
final class AnyTotals implements Totalling {
    private static String name(ColumnShape column) {
        return StandardDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    @Override
    public String exactSum(ColumnShape column) {
        return "SUM(" + (kind(column) == Kind.INTEGER ? "CAST(" + name(column) + " AS BIGINT)" : name(column)) + ")";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "SUM(CAST(" + name(column) + " AS DOUBLE PRECISION))";
    }

    @Override
    public Optional<String> ordered(ColumnShape column) {
        return kind(column) == Kind.TEXT ? Optional.empty() : Optional.of(name(column));
    }

    @Override
    public String fromOrdered(ColumnShape column, String aggregate) {
        return aggregate;
    }

    @Override
    public String distinct(ColumnShape column) {
        return name(column);
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return grouped;
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.empty();
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.empty();
    }
}
