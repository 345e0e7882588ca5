package sharptally.acceptance;

import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Where a random test begins: where {@code -Dsharptally.seed} says, which repeats a failure; else at places of its own that follow
 * from {@code -Dsharptally.draw}, so that a run judges what was changed and not its luck; else anywhere.
 */
final class Seed {
    private static final Map<String, Integer> CALLS = new ConcurrentHashMap<>();

    private Seed() {}

    static long next() {
        Long given = Long.getLong("sharptally.seed");
        Long draw = Long.getLong("sharptally.draw");
        if (given != null) {
            return given;
        }
        if (draw == null) {
            return System.nanoTime();
        }
        String caller = StackWalker.getInstance()
                .walk(frames -> frames.skip(1).findFirst().orElseThrow())
                .getClassName();
        return Objects.hash(draw, caller, CALLS.merge(caller, 1, Integer::sum));
    }
}
