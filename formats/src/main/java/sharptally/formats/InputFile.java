package sharptally.formats;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.util.Set;

/** Files that the user names to be read. */
public final class InputFile {
    private InputFile() {}

    /**
     * The text of a file in UTF-8.
     *
     * @throws IOException also where it is no file but a folder, a pipe or a device, which might never end
     */
    public static String text(Path file) throws IOException {
        check(file);
        return Files.readString(file);
    }

    /** Reads a file's text in UTF-8, as {@link #text} does, but line by line. */
    public static BufferedReader reader(Path file) throws IOException {
        check(file);
        return Files.newBufferedReader(file);
    }

    /**
     * @throws IOException when it is something else than a file with an end
     */
    public static void check(Path file) throws IOException {
        if (!Files.exists(file)) {
            throw new NoSuchFileException(file.toString());
        }
        if (!Files.isRegularFile(file)) {
            throw new IOException(Files.isDirectory(file) ? "it is a folder" : "it is a pipe or a device, not a file");
        }
    }

    /** Whether anybody but the user, and who rules the machine, may write a file, where the file system knows of owners. */
    public static boolean othersCanWrite(Path file) throws IOException {
        if (!file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            return false;
        }
        Set<PosixFilePermission> rights = Files.getPosixFilePermissions(file);
        String owner = Files.getOwner(file).getName();
        return rights.contains(PosixFilePermission.GROUP_WRITE)
                || rights.contains(PosixFilePermission.OTHERS_WRITE)
                || !owner.equals(System.getProperty("user.name")) && !owner.equals("root");
    }

    /** Whether anybody but its owner may read a file, where the file system knows of owners. */
    public static boolean othersCanRead(Path file) throws IOException {
        if (!file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            return false;
        }
        Set<PosixFilePermission> rights = Files.getPosixFilePermissions(file);
        return rights.contains(PosixFilePermission.GROUP_READ) || rights.contains(PosixFilePermission.OTHERS_READ);
    }
}
