package sharptally.cli.option;

import java.time.Duration;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.report.text.Figures;

/** Times as a user writes them: {@code 90s}, {@code 5m}, {@code 2h}. */
public final class Durations {
    private Durations() {}

    /** A length of time as people tell it, such as {@code 3 minutes}. */
    static String told(Duration time) {
        long seconds = Math.max(0, time.toSeconds());
        return seconds < 120
                ? Figures.count(seconds, "second")
                : seconds < 7200
                        ? Figures.count(seconds / 60, "minute")
                        : seconds < 172_800
                                ? Figures.count(seconds / 3600, "hour")
                                : Figures.count(seconds / 86_400, "day");
    }

    /**
     * @throws ToolException when the text is no such time
     */
    public static Duration parse(String option, String text) {
        if (!text.matches("\\d{1,9}[smhd]")) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "not a value for " + option + ": " + text,
                    option,
                    "write a number and s, m, h or d, such as 90s");
        }
        long number = Long.parseLong(text.substring(0, text.length() - 1));
        return switch (text.charAt(text.length() - 1)) {
            case 's' -> Duration.ofSeconds(number);
            case 'm' -> Duration.ofMinutes(number);
            case 'h' -> Duration.ofHours(number);
            default -> Duration.ofDays(number);
        };
    }
}
