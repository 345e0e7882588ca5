package sharptally.core.fault;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Ends several things, whatever becomes of each. */
public final class Closing {
    private Closing() {}

    /**
     * Closes all; where some can't be, the first failure is thrown when all were tried, with the others in it.
     *
     * @param close how one is closed
     */
    public static <T> void all(List<T> things, Consumer<T> close) {
        List<RuntimeException> failures = new ArrayList<>();
        for (T thing : things) {
            try {
                close.accept(thing);
            } catch (RuntimeException e) {
                failures.add(e);
            }
        }
        if (!failures.isEmpty()) {
            RuntimeException first = failures.get(0);
            failures.subList(1, failures.size()).forEach(first::addSuppressed);
            throw first;
        }
    }
}
