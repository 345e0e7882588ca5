package sharptally.core.shape;

import java.util.List;
import java.util.Set;

/**
 * All that a database declares of a table beside its columns.
 *
 * @param told of what it tells at all
 */
public record Declarations(List<Declaration> all, Set<Declaration.Sort> told) {
    public Declarations {
        all = List.copyOf(all);
        told = Set.copyOf(told);
    }

    public List<Declaration> of(Declaration.Sort sort) {
        return all.stream().filter(one -> one.sort() == sort).toList();
    }
}
