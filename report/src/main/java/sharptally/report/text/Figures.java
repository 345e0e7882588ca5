package sharptally.report.text;

import java.util.Locale;

/** Numbers as people read them, the same in every locale. */
public final class Figures {
    private Figures() {}

    /** {@code 1,234,567}. */
    public static String count(long number) {
        return String.format(Locale.ROOT, "%,d", number);
    }

    /** {@code 3 rows}, {@code 1 row}. */
    public static String count(long number, String thing) {
        return count(number) + " " + thing + (number == 1 ? "" : "s");
    }

    /** {@code 0.4 s}, {@code 3 min 05 s}. */
    public static String seconds(double seconds) {
        return seconds < 60
                ? String.format(Locale.ROOT, seconds < 10 ? "%.2f s" : "%.1f s", seconds)
                : String.format(Locale.ROOT, "%d min %02d s", (long) seconds / 60, (long) seconds % 60);
    }

    /** {@code 4.2 MB}, to powers of 1,000. */
    public static String bytes(long bytes) {
        if (bytes < 1_000) {
            return bytes + " B";
        }
        double size = bytes;
        String[] units = {"B", "kB", "MB", "GB", "TB", "PB"};
        int unit = 0;
        while (size >= 1_000 && unit < units.length - 1) {
            size /= 1_000;
            unit++;
        }
        return String.format(Locale.ROOT, size < 10 ? "%.1f %s" : "%.0f %s", size, units[unit]);
    }

    /** {@code 12.5 %} of a whole; {@code < 0.1 %} rather than nothing. */
    public static String share(long part, long whole) {
        if (whole == 0) {
            return "-";
        }
        double percent = 100.0 * part / whole;
        return part > 0 && percent < 0.1 ? "< 0.1 %" : String.format(Locale.ROOT, "%.1f %%", percent);
    }
}
