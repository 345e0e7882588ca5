package sharptally.engines.files.write;

import java.nio.charset.Charset;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** How records are written in the form of a file that was read. */
public interface Writing {
    Charset charset();

    /**
     * A record, without what ends its line.
     *
     * @param fields one for each column; empty for NULL
     * @throws sharptally.core.fault.ToolException when the form has no way to write one of them
     */
    String record(List<Optional<String>> fields);

    /**
     * A record of the file with other fields.
     *
     * @param raw as it stands in the file
     * @param fields all of its fields as they are to be
     * @param changed places of those that are other ones
     */
    default String changed(String raw, List<Optional<String>> fields, Set<Integer> changed) {
        return record(fields);
    }
}
