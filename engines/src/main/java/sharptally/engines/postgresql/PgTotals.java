package sharptally.engines.postgresql;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by PostgreSQL's own aggregates, text in the collation C. */
final class PgTotals implements Totalling {
    private static String name(ColumnShape column) {
        return PgDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    /** Text without the padding of CHAR, which a cast takes off. */
    private static String text(ColumnShape column) {
        return name(column) + "::text COLLATE \"C\"";
    }

    @Override
    public String exactSum(ColumnShape column) {
        return "SUM(" + name(column) + "::numeric)";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "SUM(" + name(column) + "::float8)";
    }

    @Override
    public Optional<String> ordered(ColumnShape column) {
        return Optional.of(kind(column) == Kind.TEXT ? text(column) : name(column));
    }

    @Override
    public String fromOrdered(ColumnShape column, String aggregate) {
        return aggregate;
    }

    @Override
    public String distinct(ColumnShape column) {
        return kind(column) == Kind.TEXT ? text(column) : name(column);
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return grouped;
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.of(
                kind(column) == Kind.TEXT
                        ? "octet_length(convert_to(" + name(column) + "::text, 'UTF8'))::numeric"
                        : "octet_length(" + name(column) + ")::numeric");
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.of("left(to_char(" + name(column) + ", 'YYYY-MM-DD HH24'), " + unit.letters() + ")");
    }
}
