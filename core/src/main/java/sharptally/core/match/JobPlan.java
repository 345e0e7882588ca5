package sharptally.core.match;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Place;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/**
 * All matches between two places, decided.
 *
 * @param sourceOnly tables of the source that have no counterpart, where matches were proposed by name
 * @param targetOnly the same of the target
 */
public record JobPlan(List<TableMatch> matches, List<TableName> sourceOnly, List<TableName> targetOnly) {
    public JobPlan {
        matches = List.copyOf(matches);
        sourceOnly = List.copyOf(sourceOnly);
        targetOnly = List.copyOf(targetOnly);
    }

    /** The matches as the user describes them. */
    public static JobPlan of(Place source, Place target, List<MatchWish> wishes) {
        List<TableMatch> matches = new ArrayList<>();
        for (MatchWish wish : wishes) {
            matches.add(MatchPlanner.plan(source.describe(wish.source()), target.describe(wish.target()), wish));
        }
        return new JobPlan(matches, List.of(), List.of());
    }

    /**
     * Tables of equal name, or the one table on each side that the addresses name.
     *
     * @param key the key's columns; only where there is one match
     * @param leaveOut columns to leave out wherever they are found
     * @throws ToolException when nothing matches, or a column to leave out is nowhere
     */
    public static JobPlan byName(
            Place source,
            Optional<String> sourceTable,
            Place target,
            Optional<String> targetTable,
            List<String> key,
            List<String> leaveOut) {
        if (sourceTable.isPresent() || targetTable.isPresent()) {
            String one = sourceTable.or(() -> targetTable).orElseThrow();
            String other = targetTable.orElse(one);
            return of(source, target, List.of(new MatchWish(one, other, key, Map.of(), leaveOut)));
        }
        var paired = MatchPlanner.pairTables(source.tables(), target.tables());
        if (paired.pairs().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table of the source has a counterpart of equal name in the target",
                    source.address() + " and " + target.address(),
                    "name one on each side with #table, or write a sheet");
        }
        if (!key.isEmpty() && paired.pairs().size() > 1) {
            throw new ToolException(
                    ErrorKind.USAGE, "--key goes with one table", String.join(", ", key), "name the table with #table");
        }
        List<TableMatch> matches = new ArrayList<>();
        List<String> notFound = new ArrayList<>(leaveOut);
        for (List<TableName> pair : paired.pairs()) {
            TableShape one = source.describe(pair.get(0).toString());
            TableShape other = target.describe(pair.get(1).toString());
            List<String> here = leaveOut.stream()
                    .filter(c -> Stream.of(one, other).anyMatch(t -> t.column(c).isPresent()))
                    .toList();
            notFound.removeAll(here);
            matches.add(MatchPlanner.plan(
                    one,
                    other,
                    new MatchWish(one.name().toString(), other.name().toString(), key, Map.of(), here)));
        }
        if (!notFound.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE, "no table has this column", String.join(", ", notFound), "check --leave-out");
        }
        return new JobPlan(matches, paired.sourceOnly(), paired.targetOnly());
    }
}
