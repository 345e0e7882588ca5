package sharptally.cli.option;

import java.time.Duration;
import java.util.Locale;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/** Times as a user writes them: {@code 90s}, {@code 5m}, {@code 2h}. */
public final class Durations {
    private Durations() {}

    /**
     * @throws ToolException when the text is no such time
     */
    public static Duration parse(String option, String text) {
        if (!text.matches("\\d{1,9}[smh]")) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not a value for " + option + ": " + text,
                    option,
                    "write a number and s, m or h, such as 90s");
        }
        return Duration.parse("PT" + text.toUpperCase(Locale.ROOT));
    }
}
