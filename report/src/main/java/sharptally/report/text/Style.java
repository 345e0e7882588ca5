package sharptally.report.text;

import java.util.Locale;

/**
 * Colour for terminals, always beside a word that says the same. The palette keeps apart for colour-blind eyes: orange,
 * blue and violet, each readable on a dark and on a light ground.
 */
public enum Style {
    /** No colour at all: pipes, files, NO_COLOR. */
    PLAIN,
    COLOUR;

    private static final String RESET = "\u001b[0m";

    /** What a piece of text means, and so how it is coloured. */
    public enum Meaning {
        HEADING("\u001b[1m"),
        QUIET("\u001b[38;5;244m"),
        CHANGED("\u001b[38;5;166m"),
        MISSING("\u001b[38;5;32m"),
        EXTRA("\u001b[38;5;134m"),
        REPEATED("\u001b[38;5;100m"),
        GOOD("\u001b[38;5;29m"),
        COMMAND("\u001b[1m"),
        NONE("");

        private final String start;

        Meaning(String start) {
            this.start = start;
        }

        /** The meaning of a kind of finding, by its word. */
        public static Meaning ofKind(String word) {
            return valueOf(word.toUpperCase(Locale.ROOT));
        }
    }

    public String paint(String text, Meaning meaning) {
        return this == PLAIN || meaning == Meaning.NONE || text.isBlank() ? text : meaning.start + text + RESET;
    }
}
