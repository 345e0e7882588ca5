package sharptally.core.place.part;

import java.util.Map;

/**
 * All that views and SQL of the user's own may depend on besides the data. A join asks both sides' tables from the
 * standpoint of one.
 *
 * @param reader as whom tables are read
 * @param settings what the user set for the session; may hold secrets
 * @param names where names without a schema are looked for
 */
public record Standpoint(String reader, Map<String, String> settings, String names) {
    /** Whether both are read as the same user with the same settings, wherever names are looked for. */
    public boolean isOfOneReader(Standpoint other) {
        return reader.equals(other.reader) && settings.equals(other.settings);
    }

    /** Without secrets. */
    @Override
    public String toString() {
        return reader + " at " + names;
    }
}
