package sharptally.engines.h2;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by H2's own aggregates. */
final class H2Totals implements Totalling {
    private static String name(ColumnShape column) {
        return H2Dialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    private static String text(ColumnShape column) {
        boolean padded = column.type().filter(CanonicalType::padded).isPresent();
        return padded ? "RTRIM(" + name(column) + ")" : "CAST(" + name(column) + " AS VARCHAR)";
    }

    /** A time with zone as it is in UTC. */
    private static String inUtc(ColumnShape column) {
        return kind(column) == Kind.INSTANT ? name(column) + " AT TIME ZONE 'UTC'" : name(column);
    }

    @Override
    public String exactSum(ColumnShape column) {
        return "SUM(" + name(column) + ")";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "CAST(SUM(CAST(" + name(column) + " AS DOUBLE PRECISION)) AS DOUBLE PRECISION)";
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
        return kind(column) == Kind.TEXT ? text(column) : name(column);
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return grouped;
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.of("OCTET_LENGTH(" + distinct(column) + ")");
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.of("LEFT(CAST(" + inUtc(column) + " AS VARCHAR), " + unit.letters() + ")");
    }
}
