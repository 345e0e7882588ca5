package sharptally.core.shape;

/** Where the values of a column come from when a row is inserted. */
public enum Generation {
    /** From the statement, or a default. */
    NONE,
    /** From a sequence, unless the statement gives one. */
    IDENTITY,
    /** From a sequence; a statement must say expressly that it overrides it. */
    IDENTITY_ALWAYS,
    /** From an expression over other columns; can't be written. */
    COMPUTED
}
