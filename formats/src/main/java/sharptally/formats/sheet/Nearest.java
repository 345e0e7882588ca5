package sharptally.formats.sheet;

import java.util.Collection;
import java.util.Comparator;

/** Finds the word that was meant. */
public final class Nearest {
    private Nearest() {}

    /** The known word that looks most like the unknown one, as a question; empty when none is known. */
    public static String question(String unknown, Collection<String> known) {
        return known.stream()
                .min(Comparator.comparingInt(word -> distance(word, unknown)))
                .map(word -> "did you mean " + word + "?")
                .orElse("");
    }

    /** Letters to insert, drop or replace to make one word the other. */
    private static int distance(String one, String other) {
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
