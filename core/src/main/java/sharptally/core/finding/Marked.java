package sharptally.core.finding;

import sharptally.core.match.TableMatch;

/** Findings that were chosen one by one. */
@FunctionalInterface
public interface Marked {
    boolean holds(TableMatch match, Finding finding);
}
