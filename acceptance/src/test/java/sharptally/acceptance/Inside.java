package sharptally.acceptance;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.lang.reflect.Field;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Optional;
import java.util.TimeZone;
import sharptally.cli.Main;

/**
 * Runs commands within this process, one after the other, in another zone and with other digits, through the entry that
 * {@code main} has: a start of Java takes longer than most of them. Names of files are relative to a folder of the test's own meanwhile, which Java knows no way to
 * ask for; so the default file system is told by its fields, and where those can't be written, a process is started. None of
 * them may leave a thread, a connection or a file behind.
 */
final class Inside {
    /** Where numbers have other digits. */
    private static final Locale ELSEWHERE = Locale.forLanguageTag("ar-EG");

    /** Half an hour beside others, and with hours that are cut out. */
    private static final TimeZone ZONE = TimeZone.getTimeZone("America/St_Johns");

    /** Of this process alone, as others run tests at the same time. */
    private static final Path TEMPORARY = temporary();

    private static final Optional<Inside> HERE = open();

    private final FileSystem files;
    private final Field folder;
    private final Field resolves;

    private Inside(FileSystem files) throws ReflectiveOperationException {
        this.files = files;
        // That of Linux extends it.
        Class<?> unix = files.getClass().getSuperclass();
        this.folder = unix.getDeclaredField("defaultDirectory");
        this.resolves = unix.getDeclaredField("needToResolveAgainstDefaultDirectory");
        folder.setAccessible(true);
        resolves.setAccessible(true);
    }

    private static Optional<Inside> open() {
        // As the launcher sets them.
        System.setProperty("sharptally.drivers", Tool.home().resolve("drivers").toString());
        try {
            Inside inside = new Inside(FileSystems.getDefault());
            inside.within(Path.of("/"), () -> 0);
            return Optional.of(inside);
        } catch (ReflectiveOperationException | IOException | RuntimeException e) {
            System.out.println("commands are run as processes, which takes longer: " + e);
            return Optional.empty();
        }
    }

    private static Path temporary() {
        try {
            return Files.createTempDirectory("inside");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static boolean works() {
        return HERE.isPresent();
    }

    static synchronized Tool.Result run(Path folder, String... arguments) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        Leaks before = Leaks.now(TEMPORARY);
        try {
            int code = HERE.orElseThrow().within(folder, () -> Main.run(stream(out), stream(err), arguments));
            before.check(String.join(" ", arguments));
            return new Tool.Result(code, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
        } catch (ReflectiveOperationException | IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static PrintStream stream(ByteArrayOutputStream into) {
        return new PrintStream(into, true, StandardCharsets.UTF_8);
    }

    private int within(Path place, java.util.function.IntSupplier work)
            throws ReflectiveOperationException, IOException {
        Object before = folder.get(files);
        Locale locale = Locale.getDefault();
        TimeZone zone = TimeZone.getDefault();
        folder.set(files, place.toRealPath().toString().getBytes(StandardCharsets.UTF_8));
        resolves.set(files, true);
        String usual = System.setProperty("java.io.tmpdir", TEMPORARY.toString());
        Locale.setDefault(ELSEWHERE);
        TimeZone.setDefault(ZONE);
        InputStream in = System.in;
        // Nobody answers a question: that of the test's own process would be waited for without end.
        System.setIn(InputStream.nullInputStream());
        try {
            return work.getAsInt();
        } finally {
            System.setIn(in);
            // Of a process of its own, what a command was told of drivers would end with it.
            System.clearProperty("sharptally.driverJars");
            System.setProperty("java.io.tmpdir", usual);
            Locale.setDefault(locale);
            TimeZone.setDefault(zone);
            folder.set(files, before);
            resolves.set(files, false);
        }
    }
}
