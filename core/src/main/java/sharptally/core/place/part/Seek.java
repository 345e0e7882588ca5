package sharptally.core.place.part;

/** How a place finds the rows in a range of the key. */
public enum Seek {
    /** By an index, if there is one. */
    BY_INDEX,
    /** By looking at all rows. */
    BY_SCAN,
    /** Not at all in our order of keys. */
    NEVER
}
