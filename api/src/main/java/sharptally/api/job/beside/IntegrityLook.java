package sharptally.api.job.beside;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import sharptally.api.job.JobRequest;
import sharptally.core.compare.Pair;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.integrity.Constraint;
import sharptally.core.integrity.ConstraintText;
import sharptally.core.integrity.Constraints;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.place.part.Changes;
import sharptally.core.place.part.Integrity;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.formats.run.RunSummary;

/** Looks at the constraints of both sides of a comparison, in the state of the databases that was compared. */
public final class IntegrityLook {
    private final JobRequest wish;
    private final List<RunSummary.Unmet> unmet = new ArrayList<>();
    private final List<String> not = new ArrayList<>();
    private int met;

    private IntegrityLook(JobRequest wish) {
        this.wish = wish;
    }

    /**
     * What is found of them.
     *
     * @throws ToolException when it is to stop
     */
    public static RunSummary.Integrity at(
            List<TableMatch> matches, Pair places, JobRequest wish, BooleanSupplier stopAsked) {
        IntegrityLook look = new IntegrityLook(wish);
        for (TableMatch match : matches) {
            for (Side side : Side.values()) {
                if (stopAsked.getAsBoolean()) {
                    throw new ToolException(
                            ErrorKind.INCOMPLETE,
                            "stopped on request",
                            match.name(),
                            "constraints were being looked at");
                }
                look.side(match, side, matches, side == Side.SOURCE ? places.source() : places.target());
            }
        }
        return new RunSummary.Integrity(look.met, look.unmet, look.not);
    }

    private void side(TableMatch match, Side side, List<TableMatch> all, Place place) {
        TableShape table = side == Side.SOURCE ? match.source() : match.target();
        List<Constraint> constraints = new Constraints(match, side, all).list();
        if (constraints.isEmpty()) {
            return;
        }
        if (place.integrity().isEmpty() || table.query().isPresent()) {
            not.add(match.name() + " in the " + side + ": "
                    + (table.query().isPresent()
                            ? "its rows are those of a query"
                            : "constraints can't be asked for there"));
            return;
        }
        Place asked = fresh(place);
        try {
            for (Constraint constraint : constraints) {
                try {
                    look(constraint, match, side, asked.integrity().orElseThrow());
                } catch (ToolException e) {
                    not.add(match.name() + " in the " + side + ": " + ConstraintText.words(constraint) + ": "
                            + e.getMessage());
                    closeIfOther(asked, place);
                    asked = fresh(place);
                }
            }
        } finally {
            closeIfOther(asked, place);
        }
    }

    /** A question that is refused may end the transaction, so that nothing more can be asked in it; none of ours does then. */
    private Place fresh(Place place) {
        if (wish.allowed(2) < 2) {
            return place;
        }
        Place other = place.another();
        if (other.sharesState()) {
            return other;
        }
        other.close();
        return place;
    }

    private static void closeIfOther(Place asked, Place place) {
        if (asked != place) {
            asked.close();
        }
    }

    private void look(Constraint constraint, TableMatch match, Side side, Integrity asking) {
        TableShape table = constraint.table();
        if (constraint instanceof Constraint.Numbered numbered) {
            Optional<Integrity.Numbers> numbers = asking.numbers(table, numbered.column());
            if (numbers.filter(Integrity.Numbers::areBehind).isPresent()) {
                add(
                        match,
                        side,
                        ConstraintText.behind(numbered.column().name(), numbers.get()),
                        new Integrity.Unmet(1, List.of()),
                        mend(side, table, numbered.column()));
            } else {
                met += numbers.isPresent() ? 1 : 0;
            }
            return;
        }
        Integrity.Unmet found;
        if (constraint instanceof Constraint.Refers refers) {
            found = asking.orphans(table, refers.columns(), refers.parent(), refers.parentColumns());
        } else if (constraint instanceof Constraint.Unique unique) {
            found = asking.repeated(table, unique.columns());
        } else {
            List<String> key = match.keyPairs().stream()
                    .map(p -> column(p, side))
                    .filter(c -> c.expression().isEmpty())
                    .map(ColumnShape::name)
                    .toList();
            found = asking.empty(table, ((Constraint.Filled) constraint).column(), key);
        }
        if (found.rows() == 0) {
            met++;
        } else {
            add(match, side, ConstraintText.words(constraint), found, Optional.empty());
        }
    }

    private void add(TableMatch match, Side side, String what, Integrity.Unmet found, Optional<String> mend) {
        unmet.add(new RunSummary.Unmet(
                side,
                match.name(),
                what,
                found.rows(),
                found.examples().stream()
                        .map(values -> String.join(",", values))
                        .toList(),
                mend));
    }

    private Optional<String> mend(Side side, TableShape table, ColumnShape column) {
        Endpoint endpoint = side == Side.SOURCE ? wish.source() : wish.target();
        return endpoint
                .engine()
                .changes()
                .map(Changes::dialect)
                .map(dialect -> dialect.numbersGoOn(table, column))
                .stream()
                .flatMap(List::stream)
                .findFirst();
    }

    private static ColumnShape column(ColumnPair pair, Side side) {
        return side == Side.SOURCE ? pair.source() : pair.target();
    }
}
