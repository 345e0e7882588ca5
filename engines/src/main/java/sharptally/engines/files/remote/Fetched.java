package sharptally.engines.files.remote;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.PlaceAccess;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Origin;

/**
 * Files from somewhere else, fetched once as long as they are the same there: into a folder that is its owner's alone and
 * goes with the program.
 */
public final class Fetched {
    private static final int TRIES = 4;
    private static final int BUFFER_BYTES = 1 << 16;
    /** Room that is left for others. */
    private static final long SPARE_BYTES = 256L << 20;

    private static final Map<String, Fetched> DONE = new HashMap<>();

    private final List<Store.Item> items;
    private final Path folder;

    private Fetched(List<Store.Item> items, Path folder) {
        this.items = items;
        this.folder = folder;
    }

    /** Whether an address means something that has to be fetched. */
    public static boolean isMeant(Address address) {
        return address.location().startsWith("s3://") || HttpStore.isMeant(address.location());
    }

    /**
     * The address of the same files on this machine; the one that was given, where they are here already.
     *
     * @throws ToolException when they can't be fetched to their ends
     */
    public static Address of(PlaceAccess access) {
        return isMeant(access.address()) ? fetched(access) : access.address();
    }

    /** Puts a file beside those that an address means, if they are elsewhere; its address there. */
    public static Optional<String> put(PlaceAccess access, Path file) {
        if (!isMeant(access.address())) {
            return Optional.empty();
        }
        if (HttpStore.isMeant(access.address().location())) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a web server takes no files",
                    access.label().withoutTable().toString(),
                    "the new file is " + file + ": bring it there yourself");
        }
        try (S3Store store = new S3Store(access)) {
            return Optional.of(store.put(file));
        }
    }

    private static synchronized Address fetched(PlaceAccess access) {
        Address address = access.address();
        String location = address.location();
        boolean web = HttpStore.isMeant(location);
        try (Store store = web ? new HttpStore(access) : new S3Store(access)) {
            List<Store.Item> items = store.items();
            Fetched known = DONE.get(location);
            if (known == null
                    || !known.items.equals(items)
                    || items.stream().anyMatch(i -> i.tag().isEmpty())) {
                known = new Fetched(items, folder(access));
                known.fetch(store);
                DONE.put(location, known);
            }
            String last = location.substring(location.lastIndexOf('/') + 1);
            String here = web ? items.get(0).name() : last;
            return new Address(
                    address.engine(),
                    here.isEmpty()
                            ? known.folder.toString()
                            : known.folder.resolve(here).toString(),
                    address.table());
        }
    }

    private static Path folder(PlaceAccess access) {
        Path within = access.session().temporary().orElse(Path.of(System.getProperty("java.io.tmpdir")));
        try {
            Path folder = Files.createTempDirectory(within, "sharp-tally-fetched-");
            Runtime.getRuntime().addShutdownHook(new Thread(() -> remove(folder)));
            return folder;
        } catch (IOException e) {
            throw noRoom(within, e);
        }
    }

    private static ToolException noRoom(Path folder, IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't keep what is fetched",
                folder + ": " + e.getMessage(),
                "make room there, or choose another temporary folder",
                e);
    }

    private void fetch(Store store) {
        try {
            long wanted = items.stream().mapToLong(i -> i.bytes().orElse(0)).sum();
            long room = Files.getFileStore(folder).getUsableSpace() - SPARE_BYTES;
            if (wanted > room) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "there is no room for what is to be fetched: " + wanted + " bytes, and " + Math.max(0, room)
                                + " are free",
                        folder.getParent().toString(),
                        "make room there, or choose another temporary folder");
            }
            for (Store.Item item : items) {
                Path file = folder.resolve(item.name());
                Origin.tell(file, item.address());
                fetch(store, item, file);
            }
        } catch (IOException e) {
            throw noRoom(folder, e);
        }
    }

    /** What was interrupted goes on where it was, as long as the file is the same there. */
    private void fetch(Store store, Store.Item item, Path file) throws IOException {
        List<String> failures = new ArrayList<>();
        Files.createFile(file);
        while (true) {
            long before = Files.size(file);
            Optional<IOException> failure = transfer(store, item, file, before);
            long now = Files.size(file);
            if (failure.isEmpty() && (item.bytes().isEmpty() || item.bytes().getAsLong() == now)) {
                return;
            }
            failures.add(failure.map(IOException::toString)
                    .orElse(now + " bytes came of " + item.bytes().orElse(0)));
            if (now > before) {
                // It goes on, if slowly.
                failures.subList(0, failures.size() - 1).clear();
            }
            if (failures.size() == TRIES) {
                throw new ToolException(
                        ErrorKind.READ,
                        "the transfer was interrupted " + TRIES + " times (" + failures.get(TRIES - 1) + ")",
                        item.address(),
                        "compare again when the network is at rest");
            }
        }
    }

    /** Empty when the transfer came to its end; a full disk is no failure of the transfer. */
    private static Optional<IOException> transfer(Store store, Store.Item item, Path file, long from)
            throws IOException {
        InputStream in;
        try {
            in = store.open(item, from);
        } catch (IOException e) {
            return Optional.of(e);
        }
        try (in;
                OutputStream out = Files.newOutputStream(file, StandardOpenOption.APPEND)) {
            byte[] buffer = new byte[BUFFER_BYTES];
            while (true) {
                int read;
                try {
                    read = in.read(buffer);
                } catch (IOException e) {
                    return Optional.of(e);
                }
                if (read < 0) {
                    return Optional.empty();
                }
                out.write(buffer, 0, read);
            }
        }
    }

    private static void remove(Path folder) {
        try (var files = Files.list(folder)) {
            for (Path file : files.toList()) {
                Files.deleteIfExists(file);
            }
            Files.deleteIfExists(folder);
        } catch (IOException e) {
            // the process ends; what is left is for the system to clear away
        }
    }

    /** The file is not as it was when it was listed. */
    static ToolException changed(String address) {
        return new ToolException(
                ErrorKind.READ, "the file changed while it was read", address, "compare again once it is at rest");
    }

    static ToolException refused(String what, String address, String mend) {
        return new ToolException(ErrorKind.CONNECT, what, address, mend);
    }

    /** A name that can be a file's here. */
    static String checkedName(String name, String address) {
        if (name.isEmpty() || name.equals(".") || name.equals("..") || name.contains("/") || name.contains("\0")) {
            throw FileProblem.of(
                    Path.of(name.isEmpty() ? "-" : "name"), "no name of a file: " + address, "name a file");
        }
        return name;
    }

    static URI uri(String text, String option) {
        try {
            URI uri = URI.create(text);
            if (uri.getHost() != null && HttpStore.isMeant(text)) {
                return uri;
            }
        } catch (IllegalArgumentException e) {
            // said below
        }
        throw new ToolException(
                ErrorKind.USAGE,
                "not the address of a server: " + text,
                option,
                "such as https://store.example.org:9000");
    }
}
