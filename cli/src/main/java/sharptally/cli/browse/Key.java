package sharptally.cli.browse;

/**
 * A key that was pressed.
 *
 * @param letter what it types; 0 where it is no letter
 */
public record Key(Kind kind, int letter) {
    /** Keys that do something by themselves. */
    public enum Kind {
        LETTER,
        UP,
        DOWN,
        PAGE_UP,
        PAGE_DOWN,
        HOME,
        END,
        ENTER,
        BACK,
        ERASE,
        /** The input is over. */
        GONE
    }

    static Key of(Kind kind) {
        return new Key(kind, 0);
    }

    static Key letter(int letter) {
        return new Key(Kind.LETTER, letter);
    }

    boolean is(char wanted) {
        return kind == Kind.LETTER && letter == wanted;
    }
}
