package sharptally.core.totals;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.place.part.Measure;
import sharptally.core.place.part.TotalsRequest;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Numbers;
import sharptally.core.types.Value;

/** Holds the figures of one table against what is expected of them. */
public final class Checks {
    private Checks() {}

    /**
     * One result per expectation, in their order.
     *
     * @param label by which the results name the place
     * @throws ToolException when an expectation names no column of the table, or a figure that its kind does not have
     */
    public static List<CheckResult> run(Place place, String label, TableShape table, List<Expectation> expectations) {
        List<TotalsRequest.Term> terms = new ArrayList<>();
        terms.add(new TotalsRequest.Term(Measure.ROWS, Optional.empty(), true));
        List<Integer> at = new ArrayList<>();
        for (Expectation expectation : expectations) {
            at.add(terms.size());
            terms.addAll(terms(expectation, table));
        }
        Map<List<String>, Value[]> read = TotalsReading.read(place, table, List.of(), terms, 1, row -> List.of());
        Value[] found = read.get(List.<String>of());
        List<CheckResult> results = new ArrayList<>();
        for (int i = 0; i < expectations.size(); i++) {
            Expectation expectation = expectations.get(i);
            Value value = figure(expectation, found, at.get(i));
            Optional<String> text = value instanceof Value.Null ? Optional.empty() : Optional.of(Figures.text(value));
            results.add(new CheckResult(
                    label, table.name().toString(), expectation.text(), text, expectation.isHeldBy(text)));
        }
        return results;
    }

    private static Value figure(Expectation expectation, Value[] found, int at) {
        if (expectation.measure().isEmpty()) {
            BigDecimal rows = Numbers.of(found[0]).orElseThrow();
            return new Value.Decimal(rows.subtract(Numbers.of(found[at]).orElseThrow()));
        }
        return switch (expectation.measure().get()) {
            case ROWS -> found[0];
            case MEAN -> Figures.mean(found[at], found[at + 1]);
            default -> found[at];
        };
    }

    private static List<TotalsRequest.Term> terms(Expectation expectation, TableShape table) {
        if (expectation.column().isEmpty()) {
            return List.of();
        }
        String name = expectation.column().get();
        ColumnShape column = table.column(name)
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "an expectation names no column of the table",
                        expectation.text() + ", table " + table.name(),
                        "there are "
                                + String.join(
                                        ", ",
                                        table.columns().stream()
                                                .map(ColumnShape::name)
                                                .limit(60)
                                                .toList())));
        Measure measure = expectation.measure().orElse(Measure.FILLED);
        Kind kind = column.type().map(t -> t.kind()).orElse(Kind.OTHER);
        if (!measure.fits(kind) && kind != Kind.ANY) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "a column of this type has no " + measure.word(),
                    expectation.text() + ", " + table.name() + "." + column.name() + " is " + column.declaredType(),
                    "see docs/totals.md");
        }
        boolean exact = kind != Kind.DOUBLE && kind != Kind.FLOAT;
        TotalsRequest.Term term =
                new TotalsRequest.Term(measure == Measure.MEAN ? Measure.SUM : measure, Optional.of(column), exact);
        return measure == Measure.MEAN
                ? List.of(term, new TotalsRequest.Term(Measure.FILLED, Optional.of(column), true))
                : List.of(term);
    }
}
