package sharptally.acceptance;

import java.math.BigDecimal;
import java.util.stream.IntStream;

/** The rules by which one table of a soak is compared: letter case of texts, and decimals that lie near each other. */
final class SoakRules {
    private static final BigDecimal NEAR = BigDecimal.valueOf(300_000);

    private SoakRules() {}

    /** Whether some column can have one. */
    static boolean fit(SoakTable table) {
        return IntStream.range(0, table.columns.size())
                .anyMatch(c -> !table.key.contains(c) && !of(table.types.get(c)).isEmpty());
    }

    /** A job that compares one table by these rules. */
    static String sheet(String source, String target, SoakTable table) {
        StringBuilder sheet = new StringBuilder("sheet: 1\nsource: \"" + source + "\"\ntarget: \"" + target
                + "\"\nmatches:\n  - source: " + table.name + "\n    columns:\n");
        for (int c = 0; c < table.columns.size(); c++) {
            if (!table.key.contains(c) && !of(table.types.get(c)).isEmpty()) {
                String name = table.columns.get(c).replace("\\", "\\\\").replace("\"", "\\\"");
                sheet.append("      - {source: \"" + name + "\", " + of(table.types.get(c)) + "}\n");
            }
        }
        return sheet.toString();
    }

    private static String of(SoakTable.Type type) {
        return switch (type) {
            case TEXT, LONG_TEXT -> "case: ignore";
            case DECIMAL -> "within: " + NEAR;
            default -> "";
        };
    }

    /** Whether two values are the same by their rule alone. */
    static boolean same(SoakTable.Type type, Object one, Object other) {
        if (one == null || other == null) {
            return false;
        }
        return switch (type) {
            case TEXT, LONG_TEXT -> one.toString().equalsIgnoreCase(other.toString());
            case DECIMAL ->
                ((BigDecimal) one).subtract((BigDecimal) other).abs().compareTo(NEAR) <= 0;
            default -> false;
        };
    }
}
