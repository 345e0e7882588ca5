package sharptally.spark.lake;

import java.util.Locale;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** What went wrong on a cluster, in one sentence. */
public final class Trouble {
    private static final int MAX_LENGTH = 300;

    private Trouble() {}

    /**
     * What a job failed with: what an executor of ours said, where one did.
     *
     * @param where what was being done
     */
    public static ToolException of(Throwable failure, String where) {
        for (Throwable t = failure; t != null; t = t.getCause()) {
            if (t instanceof ToolException told) {
                return told;
            }
        }
        Throwable last = failure;
        while (last.getCause() != null) {
            last = last.getCause();
        }
        return new ToolException(
                ErrorKind.READ, "the cluster says: " + said(last), where, "see the log of the cluster", failure);
    }

    private static String said(Throwable failure) {
        String message = String.valueOf(failure.getMessage())
                .lines()
                .map(String::strip)
                .filter(line -> !line.isEmpty())
                .findFirst()
                .orElse(failure.getClass().getSimpleName());
        String plain = message.replaceAll("^\\[[A-Z_.]+\\] ", "").replaceAll(" SQLSTATE: \\w+.*$", "");
        String cut = plain.length() > MAX_LENGTH ? plain.substring(0, MAX_LENGTH) + " …" : plain;
        return cut.equals("null") ? failure.getClass().getSimpleName().toLowerCase(Locale.ROOT) : cut;
    }
}
