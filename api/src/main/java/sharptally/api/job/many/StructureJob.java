package sharptally.api.job.many;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import sharptally.api.job.JobRequest;
import sharptally.api.job.beside.DeclarationsLook;
import sharptally.core.compare.Pair;
import sharptally.core.match.JobPlan;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.structure.StructureDifference;
import sharptally.core.structure.TableDdl;
import sharptally.report.text.MatchText;

/** Holds what two databases declare of their tables against each other; no row is read. */
public record StructureJob(JobRequest wish) {
    /**
     * What was found.
     *
     * @param source its address
     * @param tables how many tables both sides have
     * @param shapes how columns differ, a sentence each
     * @param onlySource tables that only the source has
     * @param untold of what one side, or both, do not tell
     * @param ddl statements that make what the target lacks, in its own words; none where it can't be changed
     */
    public record Found(
            String source,
            String target,
            int tables,
            List<String> shapes,
            List<StructureDifference> differences,
            List<String> onlySource,
            List<String> onlyTarget,
            List<String> untold,
            List<String> ddl) {
        public Found {
            shapes = List.copyOf(shapes);
            differences = List.copyOf(differences);
            onlySource = List.copyOf(onlySource);
            onlyTarget = List.copyOf(onlyTarget);
            untold = List.copyOf(untold);
            ddl = List.copyOf(ddl);
        }
    }

    /**
     * @throws sharptally.core.fault.ToolException when a database can't be read
     */
    public Found find() {
        try (Place from = wish.source().open();
                Place to = wish.target().open()) {
            JobPlan plan = wish.plan(from, to);
            List<String> shapes = new ArrayList<>();
            for (TableMatch match : plan.matches()) {
                var words = MatchText.words(match);
                match.lone()
                        .forEach(column -> shapes.add(match.name() + ": column " + column.column() + " is in the "
                                + column.side() + " only"));
                words.shape().forEach(shape -> shapes.add(match.name() + ": " + shape));
                words.notCompared().forEach(shape -> shapes.add(match.name() + ": " + shape));
            }
            DeclarationsLook declared = DeclarationsLook.at(plan.matches(), new Pair(from, to));
            return new Found(
                    from.address().toString(),
                    to.address().toString(),
                    plan.matches().size(),
                    shapes,
                    declared.differences(),
                    lone(plan, Side.SOURCE),
                    lone(plan, Side.TARGET),
                    declared.untold(),
                    wish.target().engine().changes().isEmpty()
                            ? List.of()
                            : new TableDdl(wish.target().dialect(), isOneEngine(), isLoose()).of(plan, from::describe));
        }
    }

    private boolean isOneEngine() {
        return wish.source().engine().name().equals(wish.target().engine().name());
    }

    private boolean isLoose() {
        return wish.source().engine().changes().isEmpty()
                || wish.source().dialect().holdsAnyValue();
    }

    private static List<String> lone(JobPlan plan, Side side) {
        Set<String> names = new TreeSet<>();
        plan.lone().stream()
                .filter(table -> table.side() == side)
                .forEach(table -> names.add(table.name().toString()));
        return List.copyOf(names);
    }
}
