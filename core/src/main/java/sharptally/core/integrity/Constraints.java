package sharptally.core.integrity;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableShape;

/**
 * Which constraints should hold on one side of a match: its own, as not every engine holds them at all times, and those of the
 * other side, in this side's names, as its rows may be carried there.
 *
 * @param all the matches of the run, by which tables that are referred to are found on this side
 */
public record Constraints(TableMatch match, Side side, List<TableMatch> all) {
    public Constraints {
        all = List.copyOf(all);
    }

    /** All that can be looked at in the side's own table; columns that are computed while they are read are passed over. */
    public List<Constraint> list() {
        TableShape here = table(match, side);
        TableShape there = table(match, other());
        Set<Constraint> found = new LinkedHashSet<>();
        for (ForeignKey own : here.foreignKeys()) {
            found.add(new Constraint.Refers(here, own.columns(), own.parent(), own.parentColumns()));
        }
        for (ForeignKey foreign : there.foreignKeys()) {
            referred(here, foreign).ifPresent(found::add);
        }
        Set<List<String>> held = new LinkedHashSet<>();
        here.keys().forEach(key -> held.add(key.columns().stream().sorted().toList()));
        for (KeyShape key : there.keys()) {
            here(match, key.columns())
                    .filter(columns -> held.add(columns.stream().sorted().toList()))
                    .ifPresent(columns -> found.add(new Constraint.Unique(here, columns)));
        }
        for (ColumnPair pair : match.pairs()) {
            ColumnShape ours = column(pair, side);
            ColumnShape theirs = column(pair, other());
            boolean plain = ours.expression().isEmpty() && theirs.expression().isEmpty();
            if (plain && ours.nullable() && !theirs.nullable()) {
                found.add(new Constraint.Filled(here, ours.name()));
            }
        }
        for (ColumnShape column : here.columns()) {
            if (column.generation() == Generation.IDENTITY || column.generation() == Generation.IDENTITY_ALWAYS) {
                found.add(new Constraint.Numbered(here, column));
            }
        }
        return List.copyOf(found);
    }

    /** A reference of the other side in this side's names; empty where its columns or its table are not in the run. */
    private Optional<Constraint> referred(TableShape here, ForeignKey foreign) {
        Optional<List<String>> columns = here(match, foreign.columns());
        Optional<TableMatch> parent = all.stream()
                .filter(m -> table(m, other()).query().isEmpty()
                        && table(m, side).query().isEmpty())
                .filter(m ->
                        table(m, other()).name().name().equals(foreign.parent().name())
                                && (foreign.parent().schema().isEmpty()
                                        || table(m, other()).name().schema().isEmpty()
                                        || table(m, other())
                                                .name()
                                                .schema()
                                                .equals(foreign.parent().schema())))
                .findFirst();
        Optional<List<String>> named = parent.flatMap(m -> here(m, foreign.parentColumns()));
        return columns.isEmpty() || named.isEmpty()
                ? Optional.empty()
                : Optional.of(new Constraint.Refers(
                        here, columns.get(), table(parent.get(), side).name(), named.get()));
    }

    /** Columns of the other side by this side's names; empty where one has none, or is computed. */
    private Optional<List<String>> here(TableMatch of, List<String> names) {
        List<String> ours = new ArrayList<>();
        for (String name : names) {
            of.pairs().stream()
                    .filter(p -> column(p, other()).name().equals(name))
                    .filter(p -> column(p, side).expression().isEmpty())
                    .findFirst()
                    .ifPresent(p -> ours.add(column(p, side).name()));
        }
        return ours.size() == names.size() ? Optional.of(ours) : Optional.empty();
    }

    private Side other() {
        return side == Side.SOURCE ? Side.TARGET : Side.SOURCE;
    }

    private static TableShape table(TableMatch match, Side side) {
        return side == Side.SOURCE ? match.source() : match.target();
    }

    private static ColumnShape column(ColumnPair pair, Side side) {
        return side == Side.SOURCE ? pair.source() : pair.target();
    }
}
