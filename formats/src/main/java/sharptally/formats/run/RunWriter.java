package sharptally.formats.run;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import sharptally.core.compare.PartKeeper;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.formats.value.FindingJson;

/**
 * Writes a run folder. From its first moment the folder says that it is incomplete; only {@link #finish} says
 * otherwise, in one step, so that a run that was killed never looks complete. Readable by its owner only.
 */
public final class RunWriter {
    private static final DateTimeFormatter NAME =
            DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH-mm-ss").withZone(ZoneOffset.UTC);

    private static final String NAMED = "\\d{4}-\\d\\d-\\d\\dT\\d\\d-\\d\\d-\\d\\d(\\.\\d+)?";
    private static final Duration LONGEST_START = Duration.ofMinutes(10);

    private final Path folder;
    private final Map<String, String> fileOfMatch = new java.util.concurrent.ConcurrentHashMap<>();

    private RunWriter(Path folder) {
        this.folder = folder;
    }

    /**
     * Makes a new folder, named after the time (UTC), below {@code runs}, which is made where it is missing.
     */
    public static RunWriter create(Path runs, Instant started) {
        try {
            Files.createDirectories(runs);
            sweep(runs, started);
            String name = NAME.format(started);
            for (int n = first(runs, name); ; n++) {
                Path folder = runs.resolve(n == 1 ? name : name + "." + n);
                try {
                    Files.createDirectory(folder, ownerOnly(folder));
                    Files.createDirectory(folder.resolve("findings"));
                    return new RunWriter(folder);
                } catch (FileAlreadyExistsException e) {
                    // another run began in the same second
                }
            }
        } catch (IOException e) {
            throw cantWrite(runs, e);
        }
    }

    /** The number of a run of this second: above those that are there, as names tell which began last. */
    private static int first(Path runs, String name) throws IOException {
        int most = 0;
        try (DirectoryStream<Path> others = Files.newDirectoryStream(runs, name + "*")) {
            for (Path other : others) {
                String file = other.getFileName().toString();
                if (file.equals(name)) {
                    most = Math.max(most, 1);
                } else if (file.substring(name.length()).matches("\\.[1-9]\\d{0,6}")) {
                    most = Math.max(most, Integer.parseInt(file.substring(name.length() + 1)));
                }
            }
        }
        return most + 1;
    }

    /** Takes away what is left of runs that were killed before they were one. */
    private static void sweep(Path runs, Instant now) throws IOException {
        try (DirectoryStream<Path> husks = Files.newDirectoryStream(
                runs,
                folder -> folder.getFileName().toString().matches(NAMED)
                        && Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)
                        && Files.notExists(folder.resolve("run.json"))
                        && Files.getLastModifiedTime(folder).toInstant().isBefore(now.minus(LONGEST_START)))) {
            for (Path husk : husks) {
                try (Stream<Path> parts = Files.walk(husk)) {
                    for (Path part : parts.sorted(Comparator.reverseOrder()).toList()) {
                        Files.deleteIfExists(part);
                    }
                }
            }
        }
    }

    private static FileAttribute<?>[] ownerOnly(Path path) {
        boolean posix = path.getFileSystem().supportedFileAttributeViews().contains("posix");
        return posix
                ? new FileAttribute<?>[] {
                    PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------"))
                }
                : new FileAttribute<?>[0];
    }

    public Path folder() {
        return folder;
    }

    /** Stores the matches as they were decided, so that scripts can be written without reaching the places. */
    public void writeMatches(List<TableMatch> matches) {
        write(
                "matches.json",
                out -> out.write(
                        Whole.sealed(Json.MAPPER.writerFor(Json.MATCHES).writeValueAsString(matches))));
    }

    /** Stores what is accepted, as somebody wrote it. */
    public void writeAccepted(Path file) {
        write(RunFolder.ACCEPTED, out -> Files.copy(file, out));
    }

    /** Stores the job file as resolved. */
    public void writeJobFile(String yaml) {
        write("job.yaml", out -> out.write(yaml.getBytes(java.nio.charset.StandardCharsets.UTF_8)));
    }

    /**
     * Keeps the summary as the comparison left it, before rows that it found are looked at again. Done once for a run.
     */
    public void keepAsCompared(RunSummary summary) {
        if (!Files.exists(folder.resolve(RunFolder.AS_COMPARED))) {
            write(RunFolder.AS_COMPARED, out -> Json.MAPPER.writeValue(out, summary));
        }
    }

    /** Stores the summary as it is so far. */
    public void writeSummary(RunSummary summary) {
        write("run.json", out -> Json.MAPPER.writeValue(out, summary));
    }

    private interface Content {
        void to(OutputStream out) throws IOException;
    }

    private void write(String name, Content content) {
        Path file = folder.resolve(name);
        Path draft = folder.resolve(name + ".draft");
        try {
            try (OutputStream out = Files.newOutputStream(draft)) {
                content.to(out);
            }
            Files.move(draft, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw cantWrite(file, e);
        }
    }

    /** The file of a match's findings, relative to the folder; one of its own for each match. */
    public String findingsFile(TableMatch match) {
        return fileOfMatch.computeIfAbsent(match.name(), m -> {
            String safe = match.name().replaceAll("[^\\p{L}\\p{N}_-]", "_");
            String file = "findings/" + safe + ".jsonl";
            for (int n = 2; fileOfMatch.containsValue(file); n++) {
                file = "findings/" + safe + "." + n + ".jsonl";
            }
            return file;
        });
    }

    /** Resumes an interrupted run. */
    public static RunWriter goOn(RunFolder run) {
        RunWriter writer = new RunWriter(run.folder());
        run.matches().forEach(writer::findingsFile);
        return writer;
    }

    /**
     * What is kept of one match while it is compared range by range.
     *
     * @param journal of the run
     */
    public MatchParts parts(TableMatch match, Journal journal) {
        return new MatchParts(match, folder, findingsFile(match), journal);
    }

    /**
     * Where findings go when a match is looked at again: a file of its own, so that the earlier ones stay.
     *
     * @param look what it is looked at again for: {@link RunSummary#RECHECKED} or {@link RunSummary#SETTLED}
     * @return its name, relative to the folder
     */
    public String nextFindingsFile(TableMatch match, String look) {
        String first = findingsFile(match).replaceAll("\\.jsonl$", "");
        int n = 1;
        while (Files.exists(folder.resolve(first + look + n + ".jsonl"))) {
            n++;
        }
        return first + look + n + ".jsonl";
    }

    /** Findings as they come, into a file of the folder. */
    public PartKeeper.Sink findings(TableMatch match, String file) {
        return new FindingsOut(folder.resolve(file), new FindingJson(match));
    }

    /** A file of findings as it stands, which is written no more. */
    public FindingsFile seal(String file) {
        return RunFolder.seal(folder, file);
    }

    /** Removes a file of the folder. */
    public void forget(String file) {
        try {
            Files.deleteIfExists(folder.resolve(file));
        } catch (IOException e) {
            throw cantWrite(folder.resolve(file), e);
        }
    }

    static ToolException cantWrite(Path where, IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't write the run folder",
                where + " (" + e.getMessage() + ")",
                Hint.ROOM_FOR_RUNS,
                e);
    }
}
