package sharptally.engines.any;

import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import sharptally.core.fault.ToolException;
import sharptally.core.place.profile.Profile;
import sharptally.core.place.profile.ProfileReader;

/** Finds the profile of an engine: one of the user's own goes before one that this program brings. Safe between threads. */
final class Profiles {
    /** System property: folders of further profiles, separated as in a class path. */
    private static final String FOLDERS = "sharptally.profiles";

    /** Files of this program, by what stands behind {@code jdbc:}. */
    private static final Map<String, String> OURS = Map.ofEntries(
            Map.entry("bigquery:", "bigquery"),
            Map.entry("clickhouse:", "clickhouse"),
            Map.entry("ch:", "clickhouse"),
            Map.entry("databricks:", "databricks"),
            Map.entry("spark:", "databricks"),
            Map.entry("hive2:", "databricks"),
            Map.entry("db2:", "db2"),
            Map.entry("as400:", "db2"),
            Map.entry("sap:", "hana"),
            Map.entry("redshift:", "redshift"),
            Map.entry("snowflake:", "snowflake"),
            Map.entry("teradata:", "teradata"));

    private static final Map<String, Profile> READ = new ConcurrentHashMap<>();

    private Profiles() {}

    /**
     * The profile that takes a URL, without {@code jdbc:}; the standard where none does.
     *
     * @throws ToolException when a file of the user's own is not a profile
     */
    static Profile of(String url) {
        return own().filter(profile -> profile.takes(url))
                .findFirst()
                .or(() -> OURS.entrySet().stream()
                        .filter(each -> url.startsWith(each.getKey()))
                        .map(each -> ours(each.getValue()))
                        .findFirst())
                .orElse(Profile.STANDARD);
    }

    /** One that this program brings. */
    private static Profile ours(String name) {
        return READ.computeIfAbsent(name, n -> {
            try (InputStream in = Profiles.class.getResourceAsStream("profiles/" + n + ".yaml")) {
                return reader().read(new String(in.readAllBytes(), StandardCharsets.UTF_8), n + ".yaml");
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }

    private static ProfileReader reader() {
        return ServiceLoader.load(ProfileReader.class, Profiles.class.getClassLoader())
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("nothing reads profiles"));
    }

    private static Stream<Profile> own() {
        List<File> files = Arrays.stream(System.getProperty(FOLDERS, "").split(File.pathSeparator))
                .filter(folder -> !folder.isEmpty())
                .flatMap(folder ->
                        Optional.ofNullable(new File(folder).listFiles((dir, name) -> name.endsWith(".yaml"))).stream()
                                .flatMap(Arrays::stream)
                                .sorted())
                .toList();
        return files.stream().map(file -> reader().read(file.toPath()));
    }
}
