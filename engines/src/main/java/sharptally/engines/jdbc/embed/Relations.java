package sharptally.engines.jdbc.embed;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import sharptally.core.shape.TableName;

/**
 * What an embedded database is opened over.
 *
 * @param engine the word by which addresses name such files
 * @param product what they are, as a place tells it
 * @param sole the table that their address alone means
 * @param beside the files of the other side of a comparison, which may be joined; empty where they are of another kind
 * @param written a file that may be written
 * @param unchanged throws {@code ToolException} where a file is not as it was
 */
public record Relations(
        String engine,
        String product,
        Optional<TableName> sole,
        Map<TableName, Relation> byName,
        Map<TableName, Relation> beside,
        Optional<Path> written,
        Runnable unchanged) {
    public Relations {
        // In the order in which they are listed.
        byName = new LinkedHashMap<>(byName);
        beside = new LinkedHashMap<>(beside);
    }
}
