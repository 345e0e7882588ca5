package sharptally.engines.files.dump;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Address;
import sharptally.engines.files.FileState;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Unpacked;

/**
 * The text of a dump: one file, several one after the other, or what {@code pg_restore} writes of an archive.
 *
 * @param location the file or folder
 * @param parts the files; of an archive, itself
 * @param archive whether only {@code pg_restore} reads it
 * @param passedOver files of a folder that are no scripts
 * @param state what changes whenever one of the files does
 */
record DumpText(Path location, List<Path> parts, boolean archive, long passedOver, String state) {
    private static final String CONTENTS = "toc.dat";
    private static final String CUSTOM = "PGDMP";
    private static final int BEGIN_BYTES = 512;
    private static final int TAR_END_BYTES = 1_024;

    DumpText {
        parts = List.copyOf(parts);
    }

    /**
     * @param address of a file, a folder, or a pattern of files
     * @throws ToolException when there is no such thing, or something that is no text of a dump
     */
    static DumpText of(Address address) {
        Path path = Path.of(address.location());
        String last = path.getFileName() == null ? "" : path.getFileName().toString();
        Path folder = last.contains("*") ? path.toAbsolutePath().getParent() : path;
        if (!Files.exists(folder)) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no such file",
                    address.withoutTable() + " (" + path.toAbsolutePath() + ")",
                    "check the path");
        }
        if (Files.isRegularFile(path)) {
            return ofFile(path);
        }
        if (!Files.isDirectory(folder)) {
            throw FileProblem.of(path, "not a file", "name a file or a folder");
        }
        if (Files.isRegularFile(path.resolve(CONTENTS))) {
            return new DumpText(path, List.of(path), true, 0, state(files(path)));
        }
        Glob wanted = new Glob(last.contains("*") ? last : "*");
        List<Path> all = files(folder).stream()
                .filter(f -> wanted.matches(f.getFileName().toString()))
                .toList();
        List<Path> scripts = last.contains("*")
                ? all
                : all.stream().filter(DumpText::isScript).toList();
        if (scripts.isEmpty()) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no script of SQL is there",
                    address.withoutTable() + " (" + path.toAbsolutePath() + ")",
                    "check the path; the names of scripts end in .sql, or in .sql.gz and the like");
        }
        scripts.forEach(DumpText::check);
        return new DumpText(path, scripts, false, all.size() - scripts.size(), state(all));
    }

    private static DumpText ofFile(Path file) {
        String begin = begin(file);
        boolean tar = begin.startsWith(CONTENTS);
        if (tar && !endsInZeros(file)) {
            // Of such a one, pg_restore may never say so.
            throw FileProblem.of(file, "the archive ends too early", "it was cut off: get it again");
        }
        boolean archive = tar || begin.startsWith(CUSTOM);
        if (archive && !Unpacked.ending(file.getFileName().toString()).isEmpty()) {
            throw FileProblem.of(
                    file, "an archive of pg_dump that is packed once more", "unpack it: pg_restore reads it as it was");
        }
        return new DumpText(file, List.of(file), archive, 0, state(List.of(file)));
    }

    private static String begin(Path file) {
        try (InputStream in = Unpacked.open(file)) {
            return new String(in.readNBytes(BEGIN_BYTES), StandardCharsets.ISO_8859_1);
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    /** How every tar file ends. */
    private static boolean endsInZeros(Path file) {
        try (FileChannel in = FileChannel.open(file)) {
            ByteBuffer end = ByteBuffer.allocate((int) Math.min(in.size(), TAR_END_BYTES));
            in.position(in.size() - end.capacity());
            while (end.hasRemaining() && in.read(end) >= 0) {
                // all of it
            }
            for (byte b : end.array()) {
                if (b != 0) {
                    return false;
                }
            }
            return true;
        } catch (IOException e) {
            throw FileProblem.of(file, e);
        }
    }

    private static boolean isScript(Path file) {
        String name = file.getFileName().toString().toLowerCase(Locale.ROOT);
        return name.substring(0, name.length() - Unpacked.ending(name).length()).endsWith(".sql");
    }

    /** What a folder may lead to beyond itself is not followed unasked. */
    private static void check(Path file) {
        if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            throw FileProblem.of(
                    file, "not a file, but a link or a device", "move it away, or name the files that are meant");
        }
    }

    private static List<Path> files(Path folder) {
        try (Stream<Path> files = Files.list(folder)) {
            return files.filter(f -> !f.getFileName().toString().startsWith("."))
                    .filter(f -> !Files.isDirectory(f))
                    .sorted()
                    .toList();
        } catch (IOException e) {
            throw FileProblem.of(folder, e);
        }
    }

    /** On disk. */
    long bytes() {
        try {
            long bytes = 0;
            for (Path part : archive && Files.isDirectory(location) ? files(location) : parts) {
                bytes += Files.size(part);
            }
            return bytes;
        } catch (IOException e) {
            throw FileProblem.of(location, e);
        }
    }

    private static String state(List<Path> files) {
        return files.stream()
                .map(f -> f.getFileName() + " " + FileState.of(f).words())
                .collect(Collectors.joining("\n"));
    }

    /**
     * @throws ToolException when a file is not as it was
     */
    void check() {
        boolean several = parts.size() > 1 || !location.equals(parts.get(0));
        Path folder = several ? parts.get(0).toAbsolutePath().getParent() : location;
        List<Path> now = Files.isDirectory(folder) ? files(folder) : List.of(location);
        boolean pattern = several && location.toString().contains("*");
        List<Path> meant = pattern
                ? now.stream()
                        .filter(f -> new Glob(location.getFileName().toString())
                                .matches(f.getFileName().toString()))
                        .toList()
                : now;
        if (!state(meant).equals(state)) {
            throw FileProblem.of(location, "the file changed while it was read", "compare again once it is at rest");
        }
    }

    /** How a part goes by where a row of it is named. */
    String name(int part) {
        return parts.get(part).getFileName().toString();
    }

    InputStream open(int part) throws IOException {
        Path file = parts.get(part);
        return archive ? new Restored(file) : Unpacked.open(file);
    }
}
