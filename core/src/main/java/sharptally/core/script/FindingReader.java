package sharptally.core.script;

import java.util.EnumSet;
import java.util.Set;
import java.util.function.Consumer;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;

/** The stored findings of a run, which may be read as often as needed. */
@FunctionalInterface
public interface FindingReader {
    Set<FindingKind> ALL = Set.copyOf(EnumSet.allOf(FindingKind.class));

    /** Hands over the findings of one match that are of some kinds, in key order, one at a time. */
    void forEach(TableMatch match, Set<FindingKind> kinds, Consumer<Finding> consumer);

    /** Hands over all findings of one match in key order, one at a time. */
    default void forEach(TableMatch match, Consumer<Finding> consumer) {
        forEach(match, ALL, consumer);
    }

    /** Whether there may be findings of a kind; so those that are not there need not be looked for. */
    default boolean mayHave(TableMatch match, FindingKind kind) {
        return true;
    }
}
