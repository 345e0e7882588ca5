package sharptally.api;

/** How rows are compared; whatever the method, the same differences are found. */
public enum Method {
    /** A join where one database sees both tables, checksums where both sides hash alike, else the fastest on a sample. */
    AUTO,
    /** All rows of both sides are read in the key's order. */
    STREAM,
    /** Both databases work out checksums, and only what differs is read. */
    CHECKSUM,
    /** One server joins both tables. */
    JOINED
}
