package sharptally.core.sql;

import java.util.Arrays;
import java.util.stream.Collectors;

/** Commands as they are pasted into a shell (POSIX, "Single-Quotes"). */
public final class ShellText {
    private ShellText() {}

    /** One word: as it is where a shell takes it as it is, else within quotes. */
    public static String quoted(String word) {
        return word.matches("[\\p{L}\\p{N}_./@:=,+-]+") && !word.startsWith("=") ? word : inQuotes(word);
    }

    /** One word within quotes, whatever it holds. */
    public static String inQuotes(String word) {
        return "'" + word.replace("'", "'\\''") + "'";
    }

    /** Several words. */
    public static String command(String... words) {
        return Arrays.stream(words).map(ShellText::quoted).collect(Collectors.joining(" "));
    }
}
