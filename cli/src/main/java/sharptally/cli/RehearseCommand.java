package sharptally.cli;

import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.jar.JarFile;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import sharptally.cli.screen.Screen;

/**
 * {@code rehearse}, by which the launcher makes its class-data archive: plays what users do most, and loads the classes of
 * what it can't play, such as the drivers of servers.
 */
@Command(
        name = "rehearse",
        hidden = true,
        description = "Plays all commands, for the archive that makes starting fast.")
final class RehearseCommand implements Callable<Integer> {
    private static final List<String> LOADED = List.of("sharp-tally-", "postgresql-", "mariadb-");
    private static final String CLASS = ".class";

    @Parameters(paramLabel = "FOLDER")
    Path folder = Path.of("rehearsal");

    /** Whatever is printed, nobody reads. */
    RehearseCommand(Screen screen) {}

    @Override
    public Integer call() {
        String old = "sqlite:" + folder.resolve("old.db");
        String fresh = "h2:" + folder.resolve("new");
        String runs = folder.resolve("runs").toString();
        play("demo", "--size", "1000", "--out-folder", folder.toString());
        play("compare", old, fresh, "--runs", runs);
        play("compare", old, old, "--method", "joined", "--table", "reading", "--runs", runs);
        play("compare", old, fresh, "--method", "checksum", "--table", "reading", "--runs", runs);
        play("compare", old, fresh, "--explain");
        for (String command : List.of("show", "script", "report", "history", "recheck")) {
            play(command, "--runs", runs);
            play(command, "--help");
        }
        play("compare", "--help");
        play("--help");
        jars().forEach(RehearseCommand::load);
        return 0;
    }

    private static void play(String... arguments) {
        PrintStream nowhere = new PrintStream(PrintStream.nullOutputStream());
        Main.run(nowhere, nowhere, arguments);
    }

    /** Those of the archive's folder; none where the classes are not in jars. */
    private static List<Path> jars() {
        Path started = Path.of(System.getProperty("java.class.path")).toAbsolutePath();
        if (!Files.isRegularFile(started)) {
            return List.of();
        }
        try (Stream<Path> beside = Files.list(started.getParent())) {
            return beside.filter(jar -> LOADED.stream()
                            .anyMatch(name -> jar.getFileName().toString().startsWith(name)))
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void load(Path jar) {
        try (JarFile file = new JarFile(jar.toFile())) {
            file.stream()
                    .map(entry -> entry.getName())
                    .filter(name -> name.endsWith(CLASS) && !name.startsWith("META-INF"))
                    .forEach(name -> load(
                            name.substring(0, name.length() - CLASS.length()).replace('/', '.')));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void load(String name) {
        try {
            Class.forName(name, false, RehearseCommand.class.getClassLoader());
        } catch (ClassNotFoundException | LinkageError e) {
            // Classes for what is not here, such as other frameworks, are not needed.
            return;
        }
    }
}
