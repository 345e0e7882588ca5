package sharptally.report.findings;

import java.io.IOException;
import sharptally.core.finding.Finding;
import sharptally.core.match.TableMatch;

/** Renders findings one after the other. */
interface FindingFormat {
    /** Called before the first finding of each match. */
    void begin(TableMatch match) throws IOException;

    void finding(TableMatch match, Finding finding) throws IOException;

    /** Called after the last finding of all. */
    void end() throws IOException;
}
