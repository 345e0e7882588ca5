package sharptally.core.compare;

import java.util.List;
import sharptally.core.range.Damage;

/**
 * What was found in one range of a match, or in all of it.
 *
 * @param method how it was compared
 * @param damage where rows differ, in key order; empty where there is no key
 * @param remarks what happened on the way that the user should know
 */
public record Part(Counts counts, String method, List<Damage.Cell> damage, List<String> remarks) {
    public Part {
        damage = List.copyOf(damage);
        remarks = List.copyOf(remarks);
    }
}
