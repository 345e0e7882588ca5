package sharptally.formats.run;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.io.JsonEOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import sharptally.core.accept.Acceptances;
import sharptally.core.compare.checksum.Sliced;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.core.script.FindingReader;
import sharptally.formats.InputFile;
import sharptally.formats.job.AcceptedFile;
import sharptally.formats.value.FindingJson;

/** A run folder, opened for reading. */
public final class RunFolder implements FindingReader {
    private static final int BUFFER = 1 << 16;
    private static final Pattern OWN_FILE = Pattern.compile("findings/[^/\\\\]+\\.jsonl");

    /** The summary of a run whose rows were looked at again, as the comparison left it. */
    static final String AS_COMPARED = "compared.json";

    /** What of the differences is accepted. */
    public static final String ACCEPTED = "accepted.yaml";

    /** Rows that kept changing while they were looked at. */
    public static final String MOVING = "moving.jsonl";

    private static final String SUMMARY = "run.json";

    private final Path folder;
    private final RunSummary summary;
    private final List<TableMatch> matches;
    private final Set<String> checked = java.util.concurrent.ConcurrentHashMap.newKeySet();

    private RunFolder(Path folder, RunSummary summary, List<TableMatch> matches) {
        this.folder = folder;
        this.summary = summary;
        this.matches = matches;
    }

    /** Whether a run was kept in this folder. */
    public static boolean isOne(Path folder) {
        return Files.isRegularFile(folder.resolve(SUMMARY));
    }

    /**
     * @throws ToolException when the folder is not there, or is not a run folder of a version that we read
     */
    public static RunFolder open(Path folder) {
        Path file = folder.resolve(SUMMARY);
        if (!isOne(folder)) {
            throw new ToolException(
                    ErrorKind.JOB_FILE, "not a run folder", folder + " (it has no run.json)", "compare first");
        }
        try {
            RunSummary summary = Whole.read(file, Json.SUMMARY);
            if (summary.format() != RunSummary.FORMAT) {
                throw new ToolException(
                        ErrorKind.JOB_FILE,
                        "a run folder of another version",
                        file + " (format " + summary.format() + ", this program reads " + RunSummary.FORMAT + ")",
                        "compare again with this program");
            }
            List<TableMatch> matches = Whole.readSealed(folder.resolve("matches.json"), Json.MATCHES);
            checkFiles(folder, summary);
            checkNames(summary, matches);
            return new RunFolder(folder, summary, matches);
        } catch (JacksonException e) {
            throw unreadable(folder, said(e), e);
        } catch (IOException e) {
            throw unreadable(folder, String.valueOf(e.getMessage()), e);
        }
    }

    /** Findings are read from the folder's own files alone, whatever a folder that came from elsewhere may say. */
    private static void checkFiles(Path folder, RunSummary summary) throws IOException {
        for (MatchSummary match : summary.matches()) {
            Path file = folder.resolve(match.findings());
            if (!OWN_FILE.matcher(match.findings()).matches() || Files.isSymbolicLink(file)) {
                throw new IOException("its findings should lie in the run folder, not in " + match.findings());
            }
            if (Files.exists(file)) {
                InputFile.check(file);
            }
        }
    }

    /** The run that began last of those that are wanted, below {@code runs}. */
    public static RunFolder latest(Path runs, Predicate<RunFolder> wanted) {
        if (!Files.isDirectory(runs)) {
            throw noRun(runs);
        }
        List<Path> folders = folders(runs);
        for (int i = folders.size() - 1; i >= 0; i--) {
            RunFolder run = open(folders.get(i));
            if (wanted.test(run)) {
                return run;
            }
        }
        throw noRun(runs);
    }

    /**
     * All runs that are wanted, below {@code runs}, in the order in which they began; those that can't be read are left
     * out, so that one damaged run does not stand in the way of others.
     */
    public static List<RunFolder> all(Path runs, Predicate<RunFolder> wanted) {
        return Files.isDirectory(runs)
                ? folders(runs).stream()
                        .flatMap(f -> readable(f).stream())
                        .filter(wanted)
                        .toList()
                : List.of();
    }

    private static Optional<RunFolder> readable(Path folder) {
        try {
            return Optional.of(open(folder));
        } catch (ToolException e) {
            return Optional.empty();
        }
    }

    private static List<Path> folders(Path runs) {
        try (Stream<Path> folders = Files.list(runs)) {
            return folders.filter(RunFolder::isOne)
                    .sorted(Comparator.comparing((Path f) ->
                                    RunFolder.startOf(f.getFileName().toString()))
                            .thenComparing(
                                    f -> RunFolder.numberOf(f.getFileName().toString())))
                    .toList();
        } catch (IOException e) {
            throw unreadable(runs, String.valueOf(e.getMessage()), e);
        }
    }

    private static String startOf(String name) {
        return name.replaceAll("\\.\\d+$", "");
    }

    private static int numberOf(String name) {
        return name.matches(".*\\.\\d{1,8}") ? Integer.parseInt(name.substring(name.lastIndexOf('.') + 1)) : 1;
    }

    private static ToolException noRun(Path runs) {
        return new ToolException(
                ErrorKind.USAGE, "there is no run yet", runs.toString(), "compare first, or name the run's folder");
    }

    static ToolException unreadable(Path where, String why, IOException e) {
        return new ToolException(
                ErrorKind.JOB_FILE, "can't read the run folder", where + " (" + why + ")", "compare again", e);
    }

    /** The same folder with another summary of its findings. */
    public RunFolder holding(RunSummary other) {
        return new RunFolder(folder, other, matches);
    }

    /** The file of accepted differences as it was when the run began; empty where there was none. */
    public Optional<Path> acceptedFile() {
        return Optional.of(folder.resolve(ACCEPTED)).filter(Files::isRegularFile);
    }

    /** The selection of rows that kept changing while they were looked at; empty where none did. */
    public Optional<Path> movingFile() {
        return Optional.of(folder.resolve(MOVING)).filter(Files::isRegularFile);
    }

    /** What was accepted on the day of the run. */
    public Acceptances accepted() {
        return acceptedFile().map(file -> AcceptedFile.read(file).on(day())).orElse(Acceptances.NONE);
    }

    /** The day on which the run began, in UTC. */
    public LocalDate day() {
        return LocalDate.ofInstant(Instant.parse(summary.started()), ZoneOffset.UTC);
    }

    /** The run as the comparison left it, whatever was found when its rows were looked at again. */
    public RunFolder asCompared() {
        Path file = folder.resolve(AS_COMPARED);
        if (!Files.isRegularFile(file)) {
            return this;
        }
        try {
            RunSummary compared = Whole.read(file, Json.SUMMARY);
            checkFiles(folder, compared);
            return new RunFolder(folder, compared, matches);
        } catch (JacksonException e) {
            throw unreadable(file, said(e), e);
        } catch (IOException e) {
            throw unreadable(file, String.valueOf(e.getMessage()), e);
        }
    }

    private static void checkNames(RunSummary summary, List<TableMatch> matches) throws IOException {
        List<String> told = summary.matches().stream().map(MatchSummary::name).toList();
        List<String> known = matches.stream().map(TableMatch::name).toList();
        if (!known.containsAll(told)
                || summary.state() == RunState.COMPLETE && !matches.isEmpty() && !told.containsAll(known)) {
            throw new IOException("it is damaged: run.json and matches.json are of other tables");
        }
    }

    /**
     * The last of some runs that can be compared with this one.
     *
     * @param earlier in the order in which they began, each as compared
     */
    public Optional<RunFolder> lastHeldAgainst(List<RunFolder> earlier) {
        return earlier.stream()
                .filter(other -> !other.summary.run().equals(summary.run()) && summary.canBeHeldAgainst(other.summary))
                .reduce((one, later) -> later);
    }

    public Path folder() {
        return folder;
    }

    public RunSummary summary() {
        return summary;
    }

    /** The matches whose rows the run compares, in the order in which it was asked for them. */
    public List<TableMatch> matches() {
        return matches;
    }

    /** What the run says of a match; empty when it was interrupted before it came to it. */
    public Optional<MatchSummary> summaryOf(TableMatch match) {
        return summary.matches().stream()
                .filter(m -> m.name().equals(match.name()))
                .findFirst();
    }

    @Override
    public boolean mayHave(TableMatch match, FindingKind kind) {
        return summaryOf(match)
                .filter(m -> switch (kind) {
                    case CHANGED -> m.changed() > 0;
                    case MISSING -> m.missing() > 0;
                    case EXTRA -> m.extra() > 0;
                    case REPEATED -> m.repeated() > 0;
                })
                .isPresent();
    }

    /**
     * The file of a match's findings.
     *
     * @throws ToolException when it is not what it was when the run wrote it
     */
    Path checked(MatchSummary match) {
        Path file = folder.resolve(match.findings());
        if (match.state() == RunState.COMPLETE && checked.add(match.findings())) {
            FindingsFile now = seal(folder, match.findings());
            if (now.lines() != match.lines() || !now.digest().equals(match.digest())) {
                checked.remove(match.findings());
                throw new ToolException(
                        ErrorKind.JOB_FILE,
                        "these findings are not what the run has written",
                        file + " (" + now.lines() + " lines; run.json tells of " + match.lines()
                                + (now.lines() == match.lines() ? " others" : "") + ")",
                        "compare again");
            }
        }
        return file;
    }

    /** Lines and digest of a file of findings; one that is not there has none. */
    static FindingsFile seal(Path folder, String file) {
        Path path = folder.resolve(file);
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            long lines = 0;
            if (Files.exists(path)) {
                try (InputStream in = Files.newInputStream(path)) {
                    byte[] buffer = new byte[BUFFER];
                    for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                        digest.update(buffer, 0, read);
                        for (int i = 0; i < read; i++) {
                            lines += buffer[i] == '\n' ? 1 : 0;
                        }
                    }
                }
            }
            return new FindingsFile(file, lines, HexFormat.of().formatHex(digest.digest()));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        } catch (IOException e) {
            throw unreadable(path, String.valueOf(e.getMessage()), e);
        }
    }

    @Override
    public void forEach(TableMatch match, Set<FindingKind> kinds, Consumer<Finding> consumer) {
        Optional<MatchSummary> told = summaryOf(match);
        if (told.isEmpty()) {
            return;
        }
        try (Findings findings = new Findings(match, told.get(), kinds)) {
            for (Optional<Finding> next = findings.next(); next.isPresent(); next = findings.next()) {
                consumer.accept(next.get());
            }
        }
    }

    /**
     * How the key of a match was cut into slices, and with what checksums rows differed, as far as that was kept.
     *
     * @throws ToolException when it is not as it was written
     */
    public List<Sliced> sliced(TableMatch match) {
        Optional<Path> file = summaryOf(match)
                .map(told -> folder.resolve(MatchParts.sumsFile(told.findings())))
                .filter(Files::isRegularFile);
        if (file.isEmpty()) {
            return List.of();
        }
        try {
            return Whole.readSealed(file.get(), Json.SLICED);
        } catch (JacksonException e) {
            throw unreadable(file.get(), said(e), e);
        } catch (IOException e) {
            throw unreadable(file.get(), String.valueOf(e.getMessage()), e);
        }
    }

    /** How many findings there are of a match, without a look at them; empty where it was not finished. */
    public Optional<Long> count(TableMatch match) {
        return summaryOf(match).filter(m -> m.state() == RunState.COMPLETE).map(MatchSummary::lines);
    }

    /** The findings of a match, one after the other; the caller closes it. */
    public Findings findings(TableMatch match) {
        return new Findings(
                match,
                summaryOf(match)
                        .orElseThrow(() -> new IllegalArgumentException("no match of this run: " + match.name())),
                EnumSet.allOf(FindingKind.class));
    }

    /** Reads findings when they are asked for. Used by one thread. */
    public final class Findings implements AutoCloseable {
        private final Path file;
        private final boolean complete;
        private final FindingJson json;
        private final JsonParser lines;
        private long line;

        private Findings(TableMatch match, MatchSummary told, Set<FindingKind> kinds) {
            file = checked(told);
            complete = told.state() == RunState.COMPLETE;
            json = new FindingJson(match);
            try {
                lines = Json.MAPPER.getFactory().createParser(new KindLines(Files.newInputStream(file), kinds));
            } catch (IOException e) {
                throw unreadable(file, String.valueOf(e.getMessage()), e);
            }
        }

        /** Empty at the end. */
        public Optional<Finding> next() {
            try {
                if (lines.nextToken() == null) {
                    return Optional.empty();
                }
                Finding finding = json.read(lines);
                line++;
                return Optional.of(finding);
            } catch (JsonEOFException e) {
                // An interrupted run may end within a line; what stands before it was found all the same.
                if (complete) {
                    throw unreadable(file, "line " + (line + 1) + " is cut short", e);
                }
                return Optional.empty();
            } catch (JacksonException e) {
                throw unreadable(file, "line " + (line + 1) + ": " + said(e), e);
            } catch (IOException e) {
                throw unreadable(file, String.valueOf(e.getMessage()), e);
            }
        }

        @Override
        public void close() {
            try {
                lines.close();
            } catch (IOException e) {
                throw unreadable(file, String.valueOf(e.getMessage()), e);
            }
        }
    }

    /** What the reader found wrong, without the reader's own view of where. */
    private static String said(JacksonException e) {
        return String.valueOf(e.getOriginalMessage())
                .lines()
                .findFirst()
                .orElse("")
                .replaceAll(" ?\\(start marker.*", "");
    }
}
