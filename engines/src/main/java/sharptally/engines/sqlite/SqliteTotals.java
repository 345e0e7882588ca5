package sharptally.engines.sqlite;

import java.util.Optional;
import sharptally.core.place.TimeUnit;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Totalling;

/** Totals by SQLite's own aggregates, and an exact sum of ours that every connection is given. */
final class SqliteTotals implements Totalling {
    private static String name(ColumnShape column) {
        return SqliteDialect.quoted(column.name());
    }

    private static Kind kind(ColumnShape column) {
        return column.type().map(CanonicalType::kind).orElse(Kind.OTHER);
    }

    @Override
    public String exactSum(ColumnShape column) {
        return ExactSum.NAME + "(" + name(column) + ")";
    }

    @Override
    public String floatingSum(ColumnShape column) {
        return "SUM(CAST(" + name(column) + " AS REAL))";
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
        return name(column) + " COLLATE BINARY";
    }

    @Override
    public String fromDistinct(ColumnShape column, String grouped) {
        return grouped;
    }

    @Override
    public Optional<String> length(ColumnShape column) {
        return Optional.of("length(CAST(" + name(column) + " AS BLOB))");
    }

    @Override
    public Optional<String> span(ColumnShape column, TimeUnit unit) {
        return Optional.of("substr(replace(" + name(column) + ", 'T', ' '), 1, " + unit.letters() + ")");
    }
}
