package sharptally.api.probe;

import com.fasterxml.jackson.core.type.TypeReference;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import sharptally.formats.job.Yaml;

/**
 * A type, and values of it that have to be told apart, at which databases go wrong.
 *
 * @param type as it is declared
 * @param values SQL of each, no two of one meaning
 */
record ProbedType(String type, List<String> values) {
    /** Those of an engine; of one of which nothing is known, those of the SQL standard. */
    static List<ProbedType> of(String engine) {
        String name = engine.equals("mysql") ? "mariadb" : engine;
        try (InputStream in = ProbedType.class.getResourceAsStream(name + ".yaml")) {
            return Yaml.MAPPER.readValue(in, new TypeReference<List<ProbedType>>() {});
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
