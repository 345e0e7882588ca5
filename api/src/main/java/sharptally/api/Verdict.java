package sharptally.api;

/** What a comparison proved. */
public enum Verdict {
    /** All rows of all tables that were to be compared are the same. */
    SAME,
    /** Rows differ; all of them are accepted for now, or no more than the job file allows. */
    ACCEPTED,
    /** Something differs. */
    DIFFERENT,
    /** Not all was compared: it ended early, a table failed, or a column can't be compared. Nothing is proved. */
    INCOMPLETE
}
