package sharptally.api.job.keep;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.RunFolder;

/** The last runs of a job; older ones are removed. */
public final class KeptRuns {
    private KeptRuns() {}

    /**
     * Removes the runs of the job of this one but the last ones.
     *
     * @param keep how many stay, this one among them
     * @return how many were removed
     */
    public static int only(int keep, RunFolder run) {
        Path runs = run.folder().toAbsolutePath().getParent();
        List<RunFolder> all = RunFolder.all(runs, other -> other.summary().isOfSameJob(run.summary()));
        List<RunFolder> old = all.subList(0, Math.max(0, all.size() - keep));
        int removed = 0;
        for (RunFolder folder : old) {
            if (folder.summary().run().equals(run.summary().run())) {
                // An old run that was resumed just now.
                continue;
            }
            try {
                Folders.delete(folder.folder());
                removed++;
            } catch (IOException e) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "can't remove an old run",
                        folder.folder() + " (" + e.getMessage() + ")",
                        "remove it by hand",
                        e);
            }
        }
        return removed;
    }
}
