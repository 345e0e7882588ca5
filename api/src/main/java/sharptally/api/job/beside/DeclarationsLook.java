package sharptally.api.job.beside;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import sharptally.core.compare.Pair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.shape.Declaration.Sort;
import sharptally.core.shape.Declarations;
import sharptally.core.structure.StructureComparison;
import sharptally.core.structure.StructureDifference;
import sharptally.formats.run.RunSummary;

/**
 * What two databases declare of tables beside their columns.
 *
 * @param differences what they declare otherwise
 * @param untold of what one side, or both, do not tell, a sentence each
 */
public record DeclarationsLook(List<StructureDifference> differences, List<String> untold) {
    public DeclarationsLook {
        differences = List.copyOf(differences);
        untold = List.copyOf(untold);
    }

    /**
     * Looks at both sides of each match.
     *
     * @throws sharptally.core.fault.ToolException when a database can't be read
     */
    public static DeclarationsLook at(List<TableMatch> matches, Pair places) {
        List<StructureDifference> differences = new ArrayList<>();
        Set<Sort> notBySource = EnumSet.noneOf(Sort.class);
        Set<Sort> notByTarget = EnumSet.noneOf(Sort.class);
        for (TableMatch match : matches) {
            Declarations ofSource = declarations(places.source(), match, Side.SOURCE);
            Declarations ofTarget = declarations(places.target(), match, Side.TARGET);
            differences.addAll(StructureComparison.of(match, matches, ofSource, ofTarget));
            notBySource.addAll(notTold(ofSource));
            notByTarget.addAll(notTold(ofTarget));
        }
        List<String> untold = new ArrayList<>();
        tell(untold, Side.SOURCE, places.source(), notBySource);
        tell(untold, Side.TARGET, places.target(), notByTarget);
        return new DeclarationsLook(differences, untold);
    }

    /** As a run keeps it. */
    public RunSummary.Declared kept() {
        return new RunSummary.Declared(kept(differences), untold);
    }

    /** The same of differences. */
    public static List<RunSummary.DeclaredOtherwise> kept(List<StructureDifference> differences) {
        return differences.stream()
                .map(d -> new RunSummary.DeclaredOtherwise(d.match(), d.words(), d.source(), d.target(), d.meaning()))
                .toList();
    }

    private static Set<Sort> notTold(Declarations declarations) {
        Set<Sort> not = EnumSet.allOf(Sort.class);
        not.removeAll(declarations.told());
        return not;
    }

    private static void tell(List<String> untold, Side side, Place place, Set<Sort> not) {
        if (!not.isEmpty()) {
            untold.add("the " + side + " (" + place.product() + ") does not tell: "
                    + String.join(", ", not.stream().map(Sort::words).toList()));
        }
    }

    private static Declarations declarations(Place place, TableMatch match, Side side) {
        var table = side == Side.SOURCE ? match.source() : match.target();
        return table.query().isPresent()
                ? new Declarations(List.of(), Set.of())
                : place.structure()
                        .map(structure -> structure.of(table))
                        .orElseGet(() -> new Declarations(List.of(), Set.of()));
    }
}
