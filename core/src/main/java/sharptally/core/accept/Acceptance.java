package sharptally.core.accept;

import java.time.LocalDate;
import java.util.Optional;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingFilter;
import sharptally.core.finding.LikelyCause;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;

/**
 * Differences that somebody knows of and accepts until a day.
 *
 * @param what which findings; of changed rows, only differences in its columns where it names some
 * @param cause of which of their differences, in the words of {@link LikelyCause}; empty for any
 * @param until the last day on which they are accepted
 * @param where it is written: file and line
 */
public record Acceptance(
        FindingFilter what, Optional<Glob> cause, String reason, String owner, LocalDate until, String where) {
    /** Whether it is past. */
    public boolean isExpired(LocalDate today) {
        return today.isAfter(until);
    }

    /** Whether it accepts the whole finding, whatever differs. */
    boolean acceptsWhole(TableMatch match, Finding finding) {
        return cause.isEmpty() && what.columns().isEmpty() && what.wants(match, finding);
    }

    /** Whether it accepts one difference of a changed row that it is about. */
    boolean accepts(TableMatch match, Difference difference) {
        return what.wants(match, difference)
                && cause.filter(c -> LikelyCause.all(
                                        match.pairs().get(difference.pair()).comparedAs(),
                                        difference.source().beside(difference.target()),
                                        difference.target().beside(difference.source()))
                                .stream()
                                .noneMatch(found -> c.matches(found.words())))
                        .isEmpty();
    }
}
