package sharptally.core.draft;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import sharptally.core.match.text.Nearest;

/**
 * How much alike two names are. A name is taken as words: parted by underscores, blanks, dots, or a change from small to
 * capital letters; each word in lower case and, as far as English spelling tells, in the singular.
 */
public final class Names {
    private Names() {}

    /** The words of a name, in order. */
    static List<String> words(String name) {
        String spaced = name.replaceAll("(?<=\\p{Ll})(?=\\p{Lu})", " ")
                .replaceAll("(?<=\\p{Lu})(?=\\p{Lu}\\p{Ll})", " ")
                .replaceAll("[^\\p{L}\\p{N}]+", " ")
                .strip()
                .toLowerCase(Locale.ROOT);
        List<String> words = new ArrayList<>();
        for (String word : spaced.split(" ")) {
            words.add(singular(word));
        }
        return words;
    }

    private static String singular(String word) {
        if (word.length() < 4
                || !word.endsWith("s")
                || word.endsWith("ss")
                || word.endsWith("us")
                || word.endsWith("is")) {
            return word;
        }
        if (word.endsWith("ies")) {
            return word.substring(0, word.length() - 3) + "y";
        }
        boolean hissing = word.matches(".*(sh|ch|x|ss|z)es");
        return word.substring(0, word.length() - (hissing ? 2 : 1));
    }

    /** The words run together: equal for names that differ in case, underscores and plural alone. */
    static String folded(String name) {
        return String.join("", words(name));
    }

    static String folded(List<String> words) {
        return String.join("", words);
    }

    /** The name's words without those at its beginning and end that are in the set; never none. */
    static List<String> without(String name, Set<String> affixes) {
        List<String> words = new ArrayList<>(words(name));
        while (words.size() > 1 && affixes.contains(words.get(0))) {
            words.remove(0);
        }
        while (words.size() > 1 && affixes.contains(words.get(words.size() - 1))) {
            words.remove(words.size() - 1);
        }
        return words;
    }

    /** From 0, nothing in common, to 1, the same words in whatever order. */
    static double likeness(Collection<String> one, Collection<String> other) {
        double whole = likeness(String.join("", one), String.join("", other));
        return Math.max(whole, (oneWay(one, other) + oneWay(other, one)) / 2);
    }

    private static double oneWay(Collection<String> from, Collection<String> to) {
        double sum = 0;
        double weight = 0;
        for (String word : from) {
            double best = to.stream().mapToDouble(w -> likeness(word, w)).max().orElse(0);
            sum += best * word.length();
            weight += word.length();
        }
        return weight == 0 ? 0 : sum / weight;
    }

    private static double likeness(String one, String other) {
        if (one.equals(other)) {
            return 1;
        }
        boolean shortened = isShortFor(one, other) || isShortFor(other, one);
        int longer = Math.max(one.length(), other.length());
        double edits = 1 - (double) Nearest.distance(one, other) / longer;
        return shortened ? Math.max(0.8, edits) : edits;
    }

    /** Whether a word shortens another: the same first letter, and its letters in order, as in qty for quantity. */
    private static boolean isShortFor(String brief, String word) {
        if (brief.length() < 2 || brief.length() >= word.length() || brief.charAt(0) != word.charAt(0)) {
            return false;
        }
        int at = 0;
        for (int i = 0; i < word.length() && at < brief.length(); i++) {
            if (word.charAt(i) == brief.charAt(at)) {
                at++;
            }
        }
        return at == brief.length();
    }

    /** A likelihood in percent; what is only likely is never told to be certain. */
    static long percent(double likelihood) {
        return Math.min(99, Math.round(likelihood * 100));
    }
}
