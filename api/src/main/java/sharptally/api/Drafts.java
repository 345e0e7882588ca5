package sharptally.api;

import java.util.List;
import sharptally.api.job.DraftJob;

/** Drafts of job files. */
final class Drafts {
    private Drafts() {}

    static String text(SharpTally tally, Database source, Database target, boolean readRows) {
        return new DraftJob(source.endpoint(tally), target.endpoint(tally), readRows, false, List.of(), List.of())
                .draft(tally.context().tool())
                .jobFile();
    }
}
