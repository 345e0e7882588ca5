package sharptally.formats.run;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * One side of a run.
 *
 * @param name as the user named it, never with a password
 * @param address where that is
 * @param product product and version, as the database reports them
 * @param schema whose tables go by their bare names
 * @param facts what the database said of itself and of the session: user, TLS, character set, time zone; in order
 * @param snapshot whether all that was read was of one state of the database
 */
public record DatabaseSummary(
        String name, String address, String product, String schema, Map<String, String> facts, boolean snapshot) {
    /** For the target of a run that has none. */
    public static final DatabaseSummary NONE = new DatabaseSummary("", "", "", "", Map.of(), false);

    public DatabaseSummary {
        facts = facts == null ? Map.of() : Collections.unmodifiableMap(new LinkedHashMap<>(facts));
    }
}
