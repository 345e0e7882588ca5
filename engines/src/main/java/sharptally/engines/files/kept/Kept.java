package sharptally.engines.files.kept;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * The folder in which is kept what was read of one dump. Nothing that goes wrong here is more than a reason to read the dump
 * itself.
 *
 * @param folder the owner's alone
 */
public record Kept(Path folder) {
    private static final String ABOUT = "about";
    private static final int NAME_LETTERS = 12;
    private static final int FORM = 1;

    /** What writes a file. */
    public interface Content {
        void write(DataOutputStream out) throws IOException;
    }

    /** What reads one. */
    public interface Reading<T> {
        T read(DataInputStream in) throws IOException;
    }

    /**
     * What is kept of one dump.
     *
     * @param name by which it is removed
     * @param dump where the dump was
     * @param bytes on disk
     * @param used when it was read last
     * @param goes when it goes by itself
     */
    public record Entry(String name, String dump, int tables, long bytes, Instant used, Instant goes) {}

    /**
     * The folder for a dump in this state; empty where none can be had that is the owner's alone.
     *
     * @param within of all that is kept
     * @param dump where it is
     * @param state what changes whenever the dump does
     * @param age how long it stays without being read
     */
    public static Optional<Kept> of(Path within, Path dump, String state, Duration age) {
        String place = dump.toAbsolutePath().normalize().toString();
        Kept kept = new Kept(within.resolve(name(place + "\n" + FORM + "\n" + state)));
        try {
            makeOwn(within);
            makeOwn(kept.folder);
            kept.put(ABOUT, out -> {
                out.writeUTF(place);
                out.writeLong(age.toSeconds());
            });
            return Optional.of(kept);
        } catch (IOException | SecurityException e) {
            return Optional.empty();
        }
    }

    private static String name(String of) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(of.getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest).substring(0, NAME_LETTERS);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    private static void makeOwn(Path folder) throws IOException {
        if (!Files.exists(folder, LinkOption.NOFOLLOW_LINKS)) {
            Files.createDirectories(folder.toAbsolutePath().getParent());
            Files.createDirectory(folder, attributes("rwx------"));
        }
        if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
            throw new IOException("not a folder: " + folder);
        }
        if (isPosix(folder)) {
            Set<PosixFilePermission> rights = Files.getPosixFilePermissions(folder, LinkOption.NOFOLLOW_LINKS);
            String user = System.getProperty("user.name");
            if (!PosixFilePermissions.fromString("rwx------").equals(rights)
                    || !Files.getOwner(folder, LinkOption.NOFOLLOW_LINKS)
                            .getName()
                            .equals(user)) {
                throw new IOException("not its owner's alone: " + folder);
            }
        }
    }

    private static boolean isPosix(Path path) {
        return path.getFileSystem().supportedFileAttributeViews().contains("posix");
    }

    private static FileAttribute<?>[] attributes(String rights) {
        boolean posix = isPosix(Path.of(""));
        return posix
                ? new FileAttribute<?>[] {PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString(rights))}
                : new FileAttribute<?>[0];
    }

    /** A file to write to, which nobody reads before it is {@link #done}. */
    Path begun(String name) throws IOException {
        return Files.createTempFile(folder, name + "-", ".begun", attributes("rw-------"));
    }

    /** A file that was begun is whole. */
    void done(Path begun, String name) throws IOException {
        try {
            Files.move(begun, folder.resolve(name), StandardCopyOption.ATOMIC_MOVE);
        } catch (AtomicMoveNotSupportedException e) {
            Files.deleteIfExists(begun);
            throw e;
        }
    }

    /** Keeps a file, whole or not at all. */
    public void put(String name, Content content) throws IOException {
        Path file = begun(name);
        try (DataOutputStream out =
                new DataOutputStream(new java.io.BufferedOutputStream(Files.newOutputStream(file)))) {
            content.write(out);
        } catch (IOException e) {
            Files.deleteIfExists(file);
            throw e;
        }
        done(file, name);
    }

    /** What a file says that was kept; empty where there is none. */
    public <T> Optional<T> get(String name, Reading<T> reading) {
        Path file = folder.resolve(name);
        if (!Files.isRegularFile(file)) {
            return Optional.empty();
        }
        try (DataInputStream in = new DataInputStream(new java.io.BufferedInputStream(Files.newInputStream(file)))) {
            return Optional.of(reading.read(in));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    /** All that is kept in a folder, what was read last first. */
    public static List<Entry> entries(Path within) {
        List<Entry> entries = new ArrayList<>();
        forEachFolder(within, folder -> new Kept(folder).entry().ifPresent(entries::add));
        entries.sort(Comparator.comparing(Entry::used).reversed());
        return entries;
    }

    private static void forEachFolder(Path within, Consumer<Path> action) {
        try {
            makeOwn(within);
            try (Stream<Path> folders = Files.list(within)) {
                folders.filter(f -> Files.isDirectory(f, LinkOption.NOFOLLOW_LINKS))
                        .forEach(action);
            }
        } catch (IOException e) {
            // nothing is kept there
        }
    }

    private Optional<Entry> entry() {
        return get(ABOUT, in -> {
            String dump = in.readUTF();
            Duration age = Duration.ofSeconds(in.readLong());
            Instant used = Files.getLastModifiedTime(folder.resolve(ABOUT)).toInstant();
            List<Path> files = files();
            long bytes = 0;
            for (Path file : files) {
                bytes += Files.size(file);
            }
            int tables = (int) files.stream()
                    .filter(f -> f.getFileName().toString().endsWith(KeptRows.ENDING))
                    .count();
            return new Entry(folder.getFileName().toString(), dump, tables, bytes, used, used.plus(age));
        });
    }

    List<Path> files() throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.toList();
        }
    }

    /** It was read now. */
    public void used(Instant now) {
        try {
            Files.setLastModifiedTime(folder.resolve(ABOUT), FileTime.from(now));
        } catch (IOException e) {
            // then it goes a little earlier
        }
    }

    /** Removes what was not read for as long as it was to be kept. */
    public static void removeOld(Path within, Instant now) {
        for (Entry entry : entries(within)) {
            if (entry.goes().isBefore(now)) {
                remove(within, entry.name());
            }
        }
    }

    /** Removes what is kept of one dump; whether it is gone. */
    public static boolean remove(Path within, String name) {
        Path folder = within.resolve(name);
        try {
            for (Path file : new Kept(folder).files()) {
                Files.deleteIfExists(file);
            }
            return Files.deleteIfExists(folder);
        } catch (IOException e) {
            return false;
        }
    }
}
