package sharptally.api;

/** Forms of a report. */
public enum ReportForm {
    /** One page for a browser, with nothing beside it. */
    HTML,
    /** Markdown. */
    MD,
    /** All differences as tables. */
    CSV,
    /** Test results as build servers read them. */
    JUNIT
}
