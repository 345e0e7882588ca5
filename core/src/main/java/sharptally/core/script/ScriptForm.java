package sharptally.core.script;

import java.util.Locale;

/**
 * How a script is written.
 *
 * @param guarded whether it stops where a row had moved on
 * @param oldValues whether a comment before each update of one row tells what its columns held
 * @param caution what is done around the changes
 */
public record ScriptForm(Style style, boolean guarded, boolean oldValues, Caution caution) {
    /** A plain guarded script. */
    public static ScriptForm of(Style style) {
        return new ScriptForm(style, true, false, Caution.NONE);
    }

    /** How many rows a statement changes. */
    public enum Style {
        /** One, which is easiest to read. */
        ROW,
        /** Many, which is faster. */
        BATCH,
        /** All of one kind and table, by rows that are put into a temporary table first: fastest for many. */
        MERGE;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
