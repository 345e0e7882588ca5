package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Glob;
import sharptally.core.place.Address;
import sharptally.engines.files.text.FileNames;
import sharptally.engines.files.text.FileProblem;

/**
 * Which files an address means, and which tables they are.
 *
 * @param one whether it means one table, whatever its name
 */
record FileTables(FileNames kind, Map<String, FileTable> byName, boolean one) {
    /** The address of what comes through a pipe. */
    static final String PIPE = "-";

    /**
     * A file is the table of its name, without its ending. A folder holds a table for each of its files of this kind. A
     * pattern, whose file name holds {@code *}, stands for such tables too; with a table's name behind it, for that one, of
     * which all files are parts.
     *
     * @param piped where what comes through a pipe was put
     * @throws ToolException when there is no such file, or something that is none
     */
    static FileTables of(FileNames kind, Address address, Optional<Path> piped) {
        String location = address.location();
        if (location.equals(PIPE)) {
            String name = address.table().orElse("rows");
            return new FileTables(kind, Map.of(name, new FileTable(name, List.of(piped.orElseThrow()))), true);
        }
        Path path = Path.of(location);
        String last = path.getFileName() == null ? "" : path.getFileName().toString();
        if (last.contains("*")) {
            return ofPattern(kind, address, path, last);
        }
        if (Files.isDirectory(path)) {
            return ofEach(
                    kind,
                    listed(path).stream()
                            .filter(f -> kind.table(f.getFileName().toString()).isPresent())
                            .toList(),
                    path);
        }
        if (!Files.exists(path)) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no such file",
                    address.withoutTable() + " (" + path.toAbsolutePath() + ")",
                    "check the path");
        }
        if (!Files.isRegularFile(path)) {
            throw FileProblem.of(path, "not a file that can be read twice", "for a pipe, write " + kind.word() + ":-");
        }
        String name = address.table().orElseGet(() -> kind.tableOf(last));
        return new FileTables(kind, Map.of(name, new FileTable(name, List.of(path))), true);
    }

    /** The table of this name; the only one, where its name is the user's. */
    FileTable called(String name) {
        return Optional.ofNullable(byName.get(name))
                .or(() -> one ? byName.values().stream().findFirst() : Optional.empty())
                .orElseThrow(() -> new IllegalStateException("no table " + name + " among " + byName.keySet()));
    }

    private static FileTables ofPattern(FileNames kind, Address address, Path path, String last) {
        Path folder = path.getParent() == null ? Path.of("") : path.getParent();
        Glob glob = new Glob(last);
        List<Path> files = Files.isDirectory(folder.toAbsolutePath())
                ? listed(folder).stream()
                        .filter(f -> glob.matches(f.getFileName().toString()))
                        .toList()
                : List.of();
        if (files.isEmpty()) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no file is of this pattern",
                    address.withoutTable() + " (" + path.toAbsolutePath() + ")",
                    "check the path");
        }
        return address.table()
                .map(name -> {
                    files.forEach(FileTables::check);
                    return new FileTables(kind, Map.of(name, new FileTable(name, files)), true);
                })
                .orElseGet(() -> ofEach(kind, files, folder));
    }

    private static FileTables ofEach(FileNames kind, List<Path> files, Path folder) {
        if (files.isEmpty()) {
            throw new ToolException(
                    ErrorKind.CONNECT,
                    "no file of this kind is in the folder",
                    kind.word() + ":" + folder,
                    "check the path; a file whose name ends otherwise is named by itself");
        }
        Map<String, FileTable> tables = new LinkedHashMap<>();
        for (Path file : files) {
            check(file);
            String name = kind.tableOf(file.getFileName().toString());
            FileTable other = tables.put(name, new FileTable(name, List.of(file)));
            if (other != null) {
                throw FileProblem.of(
                        file,
                        "two files are the table " + name + ", the other one is "
                                + other.files().get(0).getFileName(),
                        "name the one that is meant, or both as one table: " + kind.word() + ":"
                                + folder.resolve(name + ".*") + "#" + name);
            }
        }
        return new FileTables(kind, new TreeMap<>(tables), false);
    }

    /** What a folder may lead to beyond itself is not followed unasked. */
    private static void check(Path file) {
        if (Files.isSymbolicLink(file)) {
            throw FileProblem.of(file, "a link, which may lead out of its folder", "name the file itself");
        }
        if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            throw FileProblem.of(file, "not a file", "move it away, or name the files that are meant");
        }
    }

    private static List<Path> listed(Path folder) {
        try (Stream<Path> files = Files.list(folder)) {
            return new ArrayList<>(files.filter(f -> !f.getFileName().toString().startsWith("."))
                    .filter(f -> !Files.isDirectory(f))
                    .sorted()
                    .toList());
        } catch (IOException e) {
            throw FileProblem.of(folder, e);
        }
    }
}
