package sharptally.cli.cluster;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.cli.help.Words;
import sharptally.cli.option.Connections;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;

/**
 * A command that is carried out by the driver of a cluster: started by the Spark that is installed here, with the jar of this
 * program that fits it. The driver runs on this machine, so that paths and folders mean what they always do.
 *
 * @param environment in which {@code SPARK_HOME} says where Spark is, and {@code SHARP_TALLY_SPARK_JAR} which jar is submitted
 */
public record Submission(String master, Map<String, String> environment) {
    private static final String HOME = "SPARK_HOME";
    private static final String JAR = "SHARP_TALLY_SPARK_JAR";
    private static final String MASTER = "sharptally.master";
    static final String SCALA = "SPARK_SCALA_VERSION";
    private static final String JVM_OPTIONS = "SPARK_SUBMIT_OPTS";
    private static final Pattern CORE = Pattern.compile("spark-core_(\\d+\\.\\d+)-(\\d+\\.\\d+)\\.\\d+.*\\.jar");

    /** What Spark passes to its own processes. */
    private static final List<String> OPENED = List.of(
            "java.base/java.lang",
            "java.base/java.lang.invoke",
            "java.base/java.lang.reflect",
            "java.base/java.io",
            "java.base/java.net",
            "java.base/java.nio",
            "java.base/java.util",
            "java.base/java.util.concurrent",
            "java.base/java.util.concurrent.atomic",
            "java.base/jdk.internal.ref",
            "java.base/sun.nio.ch",
            "java.base/sun.nio.cs",
            "java.base/sun.security.action",
            "java.base/sun.util.calendar");

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }

    /** The option by which a command that is proposed here runs where this one does; none where that is no cluster. */
    public static List<String> words() {
        return new Words()
                .option("--on", Optional.ofNullable(System.getProperty(MASTER)))
                .list();
    }

    /**
     * Carries a command out, and waits for its end.
     *
     * @param arguments of the command, without those that say where it runs
     * @return its exit code
     * @throws ToolException when there is no Spark here, or no jar that fits it
     */
    public int run(List<String> arguments) {
        Path home = home(environment);
        Path settings = logging();
        List<String> command = new ArrayList<>(launcher(home, options(settings)));
        command.addAll(List.of("--master", master, "--class", "sharptally.spark.Main"));
        // What executors need to find named connections; no password stands in it.
        Connections.fileOfUser(environment).ifPresent(file -> command.addAll(List.of("--files", file.toString())));
        command.add(jar(home).toString());
        command.addAll(arguments);
        try {
            ProcessBuilder process = new ProcessBuilder(command).inheritIO();
            process.environment().put(JVM_OPTIONS, options(settings));
            process.environment()
                    .putIfAbsent("SPARK_SCALA_VERSION", version(home).group(1));
            return ended(process.start());
        } catch (IOException e) {
            throw problem("Spark can't be started: " + e.getMessage(), command.get(0), "check " + HOME);
        } finally {
            settings.toFile().delete();
        }
    }

    /**
     * Where Spark is.
     *
     * @throws ToolException when it is not said, or not there
     */
    static Path home(Map<String, String> environment) {
        return Optional.ofNullable(environment.get(HOME))
                .map(Path::of)
                .filter(path -> Files.isDirectory(path.resolve("jars")))
                .orElseThrow(() -> problem(
                        "no Spark is installed here",
                        HOME
                                + Optional.ofNullable(environment.get(HOME))
                                        .map(said -> "=" + said + " has no jars")
                                        .orElse(" is not set"),
                        "say where it is; docs/cluster.md shows how to come by one"));
    }

    private static int ended(Process driver) {
        while (true) {
            try {
                return driver.waitFor();
            } catch (InterruptedException e) {
                // The driver has been told as well, and ends by itself.
                Thread.interrupted();
            }
        }
    }

    /** Its own script; the class behind it where there are only the jars. */
    private static List<String> launcher(Path home, String options) {
        Path script = home.resolve("bin").resolve("spark-submit");
        if (Files.isExecutable(script)) {
            return List.of(script.toString());
        }
        List<String> words = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:+IgnoreUnrecognizedVMOptions"));
        OPENED.forEach(name -> words.add("--add-opens=" + name + "=ALL-UNNAMED"));
        words.addAll(Arrays.stream(options.split(" ")).filter(o -> !o.isEmpty()).toList());
        words.addAll(List.of("-Xmx2g", "-cp", home.resolve("jars") + "/*", "org.apache.spark.deploy.SparkSubmit"));
        return words;
    }

    /** A Java as Spark's own processes need it. */
    static List<String> java() {
        List<String> words = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:+IgnoreUnrecognizedVMOptions"));
        OPENED.forEach(name -> words.add("--add-opens=" + name + "=ALL-UNNAMED"));
        return words;
    }

    /** The driver's own options behind those of the user. */
    private String options(Path logging) {
        List<String> all = new ArrayList<>();
        Optional.ofNullable(environment.get(JVM_OPTIONS)).ifPresent(all::add);
        all.add("-Dlog4j2.configurationFile=" + logging.toUri());
        all.add("-D" + MASTER + "=" + master);
        for (String name :
                List.of("sharptally.terminals", "sharptally.columns", "sharptally.lines", "sharptally.stack")) {
            Optional.ofNullable(System.getProperty(name))
                    .filter(value -> !value.isEmpty())
                    .ifPresent(value -> all.add("-D" + name + "=" + value));
        }
        return String.join(" ", all);
    }

    static String scala(Path home) {
        return version(home).group(1);
    }

    private static Matcher version(Path home) {
        try (Stream<Path> jars = Files.list(home.resolve("jars"))) {
            return jars.map(jar -> CORE.matcher(jar.getFileName().toString()))
                    .filter(Matcher::matches)
                    .findFirst()
                    .orElseThrow(() -> problem("this is no Spark", HOME + "=" + home, "say where it is"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Path jar(Path home) {
        Matcher spark = version(home);
        String wanted = "spark-" + spark.group(2) + ".*_" + spark.group(1) + "\\.jar";
        Optional<Path> named = Optional.ofNullable(environment.get(JAR)).map(Path::of);
        List<Path> places = named.map(List::of).orElseGet(() -> List.of(Path.of("."), program()));
        for (Path place : places) {
            if (Files.isRegularFile(place)) {
                return place;
            }
            try (Stream<Path> jars = Files.isDirectory(place) ? Files.list(place) : Stream.of()) {
                Optional<Path> found = jars.filter(
                                jar -> jar.getFileName().toString().matches("sharp-tally-spark-.*" + wanted))
                        .findFirst();
                if (found.isPresent()) {
                    return found.get();
                }
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        throw problem(
                "the jar of this program for Spark " + spark.group(2) + " and Scala " + spark.group(1) + " is not here",
                String.join(", ", places.stream().map(Path::toString).toList()),
                "say where it is with " + JAR + "; docs/cluster.md shows how to build it");
    }

    /** The folder in which this program lies. */
    private static Path program() {
        return Path.of(System.getProperty("sharptally.drivers", "drivers"))
                .toAbsolutePath()
                .resolveSibling("cluster");
    }

    /** The driver says what this program says; what its cluster does is in the cluster's own log. */
    private static Path logging() {
        try {
            Path file = Files.createTempFile("sharp-tally-log-", ".properties");
            String level = Boolean.getBoolean("sharptally.stack") ? "info" : "off";
            return Files.writeString(
                    file,
                    "rootLogger.level = " + level
                            + "\nrootLogger.appenderRef.err.ref = err\nappender.err.type = Console\n"
                            + "appender.err.name = err\nappender.err.target = SYSTEM_ERR\n"
                            + "appender.err.layout.type = PatternLayout\nappender.err.layout.pattern = %d %p %c: %m%n\n");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
