package sharptally.core.script.write;

import java.util.Locale;

/**
 * How a script is written.
 *
 * @param guarded whether it stops where a row had moved on
 * @param oldValues whether a comment before each update of one row tells what its columns held
 * @param forClient whether it may hold words of the engine's own client, which make that stop at the first error; without
 *     them it is plain SQL, for those who run it through a driver
 * @param caution what is done around the changes
 */
public record ScriptForm(Style style, boolean guarded, boolean oldValues, boolean forClient, ScriptSafeguards caution) {
    /** A plain guarded script. */
    public static ScriptForm of(Style style) {
        return new ScriptForm(style, true, false, true, ScriptSafeguards.NONE);
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
