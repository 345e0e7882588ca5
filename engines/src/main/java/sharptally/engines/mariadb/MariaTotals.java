package sharptally.engines.mariadb;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by MariaDB's own aggregates, text by its bytes in UTF-8. */
final class MariaTotals implements Totalling {
    private static String name(ColumnShape column) {
        return MariaDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    private static String fromBytes(ColumnShape column, String bytes) {
        return kind(column) == Kind.TEXT ? "CONVERT(" + bytes + " USING utf8mb4)" : bytes;
    }

    @Override
    public String exactSum(ColumnShape column) {
        return "SUM(" + name(column) + ")";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "SUM(" + name(column) + " + 0e0)";
    }

    @Override
    public Optional<String> ordered(ColumnShape column) {
        return Optional.of(distinct(column));
    }

    @Override
    public String fromOrdered(ColumnShape column, String aggregate) {
        return fromBytes(column, aggregate);
    }

    @Override
    public String distinct(ColumnShape column) {
        return kind(column) == Kind.TEXT ? MariaDialect.asBytes(column) : name(column);
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return fromBytes(column, grouped);
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.of(
                kind(column) == Kind.TEXT
                        ? "LENGTH(CONVERT(" + name(column) + " USING utf8mb4))"
                        : "LENGTH(" + name(column) + ")");
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.of("LEFT(DATE_FORMAT(" + name(column) + ", '%Y-%m-%d %H'), " + unit.letters() + ")");
    }
}
