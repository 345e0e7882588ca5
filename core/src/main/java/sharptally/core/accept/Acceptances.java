package sharptally.core.accept;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.Marked;
import sharptally.core.match.TableMatch;

/**
 * All that is accepted. A finding is accepted where one entry takes the whole of it, or where each of a changed row's
 * differences is accepted by some entry; a row of which one difference is left is not.
 */
public record Acceptances(List<Acceptance> all) implements Marked {
    /** Nothing is. */
    public static final Acceptances NONE = new Acceptances(List.of());

    public Acceptances {
        all = List.copyOf(all);
    }

    /** Those that are not past. */
    public Acceptances on(LocalDate today) {
        return new Acceptances(all.stream().filter(a -> !a.isExpired(today)).toList());
    }

    @Override
    public boolean holds(TableMatch match, Finding finding) {
        return !by(match, finding).isEmpty();
    }

    /** The entries that together accept a finding; none where it is not accepted. */
    public List<Acceptance> by(TableMatch match, Finding finding) {
        List<Acceptance> about =
                all.stream().filter(a -> a.what().wants(match, finding)).toList();
        Optional<Acceptance> whole =
                about.stream().filter(a -> a.acceptsWhole(match, finding)).findFirst();
        if (whole.isPresent() || !(finding instanceof Finding.Changed changed)) {
            return whole.stream().toList();
        }
        List<Acceptance> used = new ArrayList<>();
        for (Difference difference : changed.differences()) {
            Optional<Acceptance> by =
                    about.stream().filter(a -> a.accepts(match, difference)).findFirst();
            if (by.isEmpty()) {
                return List.of();
            }
            if (!used.contains(by.get())) {
                used.add(by.get());
            }
        }
        return used;
    }

    /**
     * Looks whether each entry can mean something in the matches that it is about.
     *
     * @throws ToolException when one names a column that is not compared, or a value that its column can't hold
     */
    public void check(List<TableMatch> matches) {
        for (Acceptance acceptance : all) {
            try {
                acceptance.what().checkColumns(matches);
            } catch (ToolException e) {
                throw new ToolException(e.kind(), e.what(), e.where() + ", in " + acceptance.where(), e.mend(), e);
            }
        }
    }
}
