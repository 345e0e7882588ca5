package sharptally.engines.any;

import java.util.List;
import java.util.Optional;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.profile.Profile;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.join.Joining;

/** Joins in the words of a profile, of tables alone: what a view or a query shows may hang on the session that asks. */
record AnyJoining(AnyReading reading, Profile.Joins how) implements Joining {
    @Override
    public String instance() {
        return how.instance();
    }

    @Override
    public Outer outer() {
        return how.full() ? Outer.FULL : Outer.LEFT;
    }

    @Override
    public Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        return table.view() || Joining.hasOwnSql(table, columns)
                ? Optional.of(new Obstacle.OtherStandpoint())
                : Optional.empty();
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return Profile.filled(how.distinct(), "one", reading.term(one), "other", reading.term(other));
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return Profile.filled(how.same(), "one", reading.term(one), "other", reading.term(other));
    }
}
