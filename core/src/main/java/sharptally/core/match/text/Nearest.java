package sharptally.core.match.text;

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
                .min(Comparator.comparingInt(word -> distance(word, unknown)))
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
                .filter(word -> isNear(word.toLowerCase(Locale.ROOT), bare))
                .min(Comparator.comparingInt(word -> distance(word.toLowerCase(Locale.ROOT), bare)))
                .map(word -> "did you mean " + word + "?")
                .orElseGet(() -> there + listed(known));
    }

    /** Whether a few letters were mistyped: up to a third of them, or two that changed places. */
    private static boolean isNear(String word, String wanted) {
        int off = distance(word, wanted);
        return off <= wanted.length() / 3
                || off == 2 && wanted.length() > 2 && sorted(word).equals(sorted(wanted));
    }

    private static String sorted(String word) {
        return word.chars()
                .sorted()
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString();
    }

    private static String listed(List<String> known) {
        return known.stream().limit(LISTED).collect(Collectors.joining(", "))
                + (known.size() > LISTED ? " and " + (known.size() - LISTED) + " more" : "");
    }

    /** Letters to insert, drop or replace to make one word the other. */
    public static int distance(String one, String other) {
        int[] row = new int[other.length() + 1];
        for (int j = 0; j <= other.length(); j++) {
            row[j] = j;
        }
        for (int i = 1; i <= one.length(); i++) {
            int diagonal = row[0];
            row[0] = i;
            for (int j = 1; j <= other.length(); j++) {
                int replace = diagonal + (one.charAt(i - 1) == other.charAt(j - 1) ? 0 : 1);
                diagonal = row[j];
                row[j] = Math.min(replace, Math.min(row[j], row[j - 1]) + 1);
            }
        }
        return row[other.length()];
    }
}
