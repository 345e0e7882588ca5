package sharptally.formats.job;

import java.util.Collection;
import java.util.Comparator;
import sharptally.core.draft.Names;

/** Finds the word that was meant. */
public final class Nearest {
    private Nearest() {}

    /** The known word that looks most like the unknown one, as a question; empty when none is known. */
    public static String question(String unknown, Collection<String> known) {
        return known.stream()
                .min(Comparator.comparingInt(word -> Names.distance(word, unknown)))
                .map(word -> "did you mean " + word + "?")
                .orElse("");
    }
}
