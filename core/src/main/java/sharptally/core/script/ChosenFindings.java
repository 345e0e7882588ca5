package sharptally.core.script;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.FindingKind;
import sharptally.core.finding.Marked;
import sharptally.core.match.TableMatch;

/**
 * The findings of a run that are to be carried over, seen from the side that is to be changed.
 *
 * @param all the run's findings
 * @param matches the run's matches
 * @param filter which of them are wanted, in terms of the run
 * @param reversed whether the source is to be made like the target
 * @param also what is wanted besides, seen from the side that is to be changed
 */
public record ChosenFindings(
        FindingReader all, List<TableMatch> matches, FindingFilter filter, boolean reversed, Optional<Marked> also)
        implements FindingReader {
    public ChosenFindings {
        matches = List.copyOf(matches);
    }

    /** The matches that are wanted, with the side that is to be changed as their target. */
    public List<TableMatch> chosen() {
        return also.isPresent()
                ? oriented()
                : matches.stream().filter(filter::wants).map(this::oriented).toList();
    }

    /** All matches, with the side that is to be changed as their target. */
    List<TableMatch> oriented() {
        return matches.stream().map(this::oriented).toList();
    }

    private TableMatch oriented(TableMatch match) {
        return reversed ? match.reversed() : match;
    }

    private Finding oriented(TableMatch ofRun, Finding finding) {
        return reversed ? finding.reversed(ofRun.pairs().size()) : finding;
    }

    @Override
    public void forEach(TableMatch match, Set<FindingKind> kinds, Consumer<Finding> consumer) {
        TableMatch ofRun = original(match);
        all.forEach(ofRun, kinds.stream().map(this::ofRun).collect(Collectors.toSet()), finding -> {
            Finding seen = oriented(ofRun, finding);
            boolean besides = also.isPresent() && also.get().holds(match, seen);
            Optional<Finding> wanted =
                    besides ? Optional.of(seen) : filter.chosen(ofRun, finding).map(f -> oriented(ofRun, f));
            wanted.ifPresent(consumer);
        });
    }

    @Override
    public boolean mayHave(TableMatch match, FindingKind kind) {
        return all.mayHave(original(match), ofRun(kind));
    }

    private FindingKind ofRun(FindingKind kind) {
        return !reversed || kind == FindingKind.CHANGED || kind == FindingKind.REPEATED
                ? kind
                : kind == FindingKind.MISSING ? FindingKind.EXTRA : FindingKind.MISSING;
    }

    /** Hands over the findings of a match that are not wanted. */
    void forEachUnchosen(TableMatch match, Consumer<Finding> consumer) {
        TableMatch ofRun = original(match);
        all.forEach(ofRun, finding -> {
            if (!filter.wants(ofRun, finding)) {
                consumer.accept(oriented(ofRun, finding));
            }
        });
    }

    /** How many findings of a match are left out. */
    public long leftOut(TableMatch ofRun) {
        long[] count = {0};
        TableMatch seen = oriented(ofRun);
        forEachUnchosen(
                seen, finding -> count[0] += also.isPresent() && also.get().holds(seen, finding) ? 0 : 1);
        return count[0];
    }

    private TableMatch original(TableMatch match) {
        return matches.stream()
                .filter(m -> m.name().equals(match.name()))
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("no match " + match.name()));
    }
}
