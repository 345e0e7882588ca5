package sharptally.engines.duckdb;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.PlaceAccess;

/** How little of the machine a database gets hold of: memory, one temporary folder, and some files. */
final class Confinement {
    private Confinement() {}

    /**
     * A view may name files, servers and extensions. What is turned off here stays off for as long as the database is open,
     * in all connections to it; the whole configuration is not locked, as each of them needs its time zone.
     *
     * @param within paths of the files that stay within reach
     */
    static void to(Statement statement, PlaceAccess place, List<String> within) throws SQLException {
        // As much as this program may have itself; what is larger goes to disk.
        statement.execute("SET memory_limit = '" + (Runtime.getRuntime().maxMemory() >> 20) + "MiB'");
        String spill = place.session()
                .temporary()
                .map(Spill::within)
                .map(folder -> folder.toString().replace("'", "''"))
                .orElse("");
        statement.execute("SET temp_directory = '" + spill + "'");
        statement.execute("SET autoinstall_known_extensions = false");
        statement.execute("SET autoload_known_extensions = false");
        if (!within.isEmpty()) {
            statement.execute("SET allowed_paths = " + listed(within));
        }
        statement.execute("SET enable_external_access = false");
    }

    /** Texts as a list in SQL. */
    static String listed(List<String> texts) {
        return texts.stream().map(t -> "'" + t.replace("'", "''") + "'").collect(Collectors.joining(", ", "[", "]"));
    }

    /** Where large sorts go: within each temporary folder, one of this process and this user alone, which ends with it. */
    private static final class Spill {
        private static final Map<Path, Path> FOLDERS = new ConcurrentHashMap<>();

        private Spill() {}

        static Path within(Path temporary) {
            return FOLDERS.computeIfAbsent(temporary, Spill::make);
        }

        private static Path make(Path temporary) {
            try {
                Path folder = Files.createTempDirectory(temporary, "sharp-tally-");
                Runtime.getRuntime().addShutdownHook(new Thread(() -> remove(folder)));
                return folder;
            } catch (IOException e) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "can't make a temporary folder",
                        temporary + ": " + e.getMessage(),
                        "make room there, or choose another temporary folder",
                        e);
            }
        }

        private static void remove(Path folder) {
            try (Stream<Path> files = Files.walk(folder)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.deleteIfExists(file);
                }
            } catch (IOException e) {
                // the process ends; what is left is for the system to clear away
            }
        }
    }
}
