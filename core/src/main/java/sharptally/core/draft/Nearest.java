package sharptally.core.draft;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Finds the word that was meant. */
public final class Nearest {
    private static final int LISTED = 12;

    private Nearest() {}

    /** The known word that looks most like the unknown one, as a question; empty when none is known. */
    public static String question(String unknown, Collection<String> known) {
        return known.stream()
                .min(Comparator.comparingInt(word -> Names.distance(word, unknown)))
                .map(word -> "did you mean " + word + "?")
                .orElse("");
    }

    /**
     * What helps where a name is not known: the one that is much like it, else the names that there are.
     *
     * @param there words before the names, such as {@code "there are: "}
     */
    public static String hint(String unknown, List<String> known, String there) {
        String wanted = unknown.toLowerCase(Locale.ROOT);
        String bare = wanted.substring(wanted.lastIndexOf('.') + 1);
        return known.stream()
                .filter(word -> !wanted.contains("*"))
                .filter(word -> Names.distance(word.toLowerCase(Locale.ROOT), bare) <= Math.max(1, bare.length() / 3))
                .min(Comparator.comparingInt(word -> Names.distance(word.toLowerCase(Locale.ROOT), bare)))
                .map(word -> "did you mean " + word + "?")
                .orElseGet(() -> there + listed(known));
    }

    private static String listed(List<String> known) {
        return known.stream().limit(LISTED).collect(Collectors.joining(", "))
                + (known.size() > LISTED ? " and " + (known.size() - LISTED) + " more" : "");
    }
}
