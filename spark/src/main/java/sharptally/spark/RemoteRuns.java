package sharptally.spark;

import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;
import sharptally.core.fault.ErrorKind;
import sharptally.core.rows.Daemons;
import sharptally.spark.lake.SparkTables;

/**
 * Runs that are kept in a store of the cluster, such as HDFS or an object store, which has neither locks nor, often, a rename. The
 * driver writes a run into a folder of its own, and copies what has changed now and then, so that the run can be resumed by
 * another driver. {@code run.json} is copied behind all others: it says what the findings are, to the byte, and that they are
 * complete; a copy without it, or with an earlier one, is an interrupted run.
 */
final class RemoteRuns {
    private static final Pattern REMOTE = Pattern.compile("[a-z][a-z0-9]*://.+");
    private static final String SUMMARY = "run.json";
    private static final long SYNC_MILLIS = 2_000;

    private final String url;
    private final Path local;
    private final String[] arguments;
    private final Map<Path, List<Long>> copied = new HashMap<>();
    private volatile boolean ended;

    private RemoteRuns(String url, Path local, String... arguments) {
        this.url = url;
        this.local = local;
        this.arguments = arguments;
    }

    /** Where runs are kept elsewhere, or a run that is kept elsewhere is resumed; empty where they are in folders. */
    static Optional<RemoteRuns> of(String... args) throws IOException {
        List<String> words = new ArrayList<>();
        for (String word : args) {
            int equals = word.startsWith("--runs=") || word.startsWith("--resume=") ? word.indexOf('=') : -1;
            words.addAll(equals < 0 ? List.of(word) : List.of(word.substring(0, equals), word.substring(equals + 1)));
        }
        int runs = words.indexOf("--runs");
        int resume = words.indexOf("--resume");
        Optional<String> resumed = remote(words, resume);
        Optional<String> kept =
                remote(words, runs).or(() -> resumed.map(run -> run.substring(0, run.lastIndexOf('/'))));
        if (kept.isEmpty()) {
            return Optional.empty();
        }
        Path folder = Files.createTempDirectory("sharp-tally-runs-");
        if (runs >= 0) {
            words.set(runs + 1, folder.toString());
        } else {
            words.addAll(List.of("--runs", folder.toString()));
        }
        RemoteRuns remote = new RemoteRuns(kept.get().replaceAll("/+$", ""), folder, words.toArray(String[]::new));
        if (resumed.isPresent()) {
            String run = resumed.get().replaceAll("/+$", "");
            Path here = folder.resolve(run.substring(run.lastIndexOf('/') + 1));
            remote.fetch(new org.apache.hadoop.fs.Path(run), here);
            remote.arguments[resume + 1] = here.toString();
        }
        return Optional.of(remote);
    }

    private static Optional<String> remote(List<String> words, int option) {
        return option >= 0 && option + 1 < words.size()
                ? Optional.of(words.get(option + 1))
                        .filter(value -> REMOTE.matcher(value).matches())
                : Optional.empty();
    }

    String[] arguments() {
        return arguments.clone();
    }

    private static Configuration configuration() {
        return SparkTables.session().sessionState().newHadoopConf();
    }

    private FileSystem store() throws IOException {
        return new org.apache.hadoop.fs.Path(url).getFileSystem(configuration());
    }

    private void fetch(org.apache.hadoop.fs.Path from, Path to) throws IOException {
        FileSystem store = store();
        Files.createDirectories(to);
        for (FileStatus status : store.listStatus(from)) {
            Path target = to.resolve(status.getPath().getName());
            if (status.isDirectory()) {
                fetch(status.getPath(), target);
            } else {
                try (var in = store.open(status.getPath())) {
                    Files.copy(in, target);
                }
                copied.put(target, state(target));
            }
        }
    }

    private static List<Long> state(Path file) throws IOException {
        return List.of(Files.size(file), Files.getLastModifiedTime(file).toMillis());
    }

    /** What is printed names the run where it is kept. */
    PrintStream naming(PrintStream out) {
        return new PrintStream(
                new OutputStream() {
                    private final java.io.ByteArrayOutputStream line = new java.io.ByteArrayOutputStream();

                    @Override
                    public synchronized void write(int b) throws IOException {
                        line.write(b);
                        if (b == '\n') {
                            flush();
                        }
                    }

                    @Override
                    public synchronized void flush() throws IOException {
                        String text = line.toString(StandardCharsets.UTF_8);
                        line.reset();
                        out.write(named(text).getBytes(StandardCharsets.UTF_8));
                        out.flush();
                    }
                },
                false,
                StandardCharsets.UTF_8);
    }

    /** Commands that are proposed need the run here first, but for those that run where this one does. */
    private String named(String text) {
        return text.startsWith("next  ") && text.contains(local.toString()) && !text.contains(" --resume ")
                ? "next  hadoop fs -get " + url + "    bring the runs here; the other commands take --runs "
                        + url.substring(url.lastIndexOf('/') + 1) + System.lineSeparator()
                : text.replace(local.toString(), url);
    }

    /** Copies what changes until {@link #end}. */
    void begin() {
        Daemons.run("runs-elsewhere", () -> {
            while (!ended) {
                try {
                    Thread.sleep(SYNC_MILLIS);
                    if (!ended) {
                        copy();
                    }
                } catch (IOException | RuntimeException e) {
                    // Tried again, and told at the end.
                } catch (InterruptedException e) {
                    return;
                }
            }
        });
    }

    private synchronized void copy() throws IOException {
        List<Path> files;
        try (Stream<Path> all = Files.walk(local)) {
            files = all.filter(Files::isRegularFile)
                    .filter(file -> !file.getFileName().toString().matches("\\..*|.*\\.draft|lock"))
                    .sorted((one, other) -> Boolean.compare(isSummary(one), isSummary(other)))
                    .toList();
        }
        for (Path file : files) {
            try {
                List<Long> now = state(file);
                if (!now.equals(copied.get(file))) {
                    put(file);
                    copied.put(file, now);
                }
            } catch (java.nio.file.NoSuchFileException e) {
                // It went meanwhile.
            }
        }
    }

    private static boolean isSummary(Path file) {
        return file.getFileName().toString().equals(SUMMARY);
    }

    private void put(Path file) throws IOException {
        org.apache.hadoop.fs.Path to =
                new org.apache.hadoop.fs.Path(url + "/" + local.relativize(file).toString());
        FileSystem store = store();
        boolean first = isSummary(file) && !copied.containsKey(file);
        // Nobody else's run of the same name is written over.
        try (OutputStream out = store.create(to, !first)) {
            Files.copy(file, out);
        }
    }

    /**
     * Copies all that is left.
     *
     * @param code of the command
     * @return the same, or that of an incomplete run where it could not be kept
     */
    int end(int code, PrintStream err) {
        ended = true;
        try {
            copy();
            removeLeft();
            return code;
        } catch (IOException | RuntimeException e) {
            err.println("sharp-tally: the run can't be kept: " + url + " ("
                    + String.valueOf(e.getMessage()).lines().findFirst().orElse("") + "); it is in " + local
                    + ", copy it from there");
            return ErrorKind.INCOMPLETE.exitCode();
        }
    }

    /** Files that were copied and are no more, as parts that were put together. */
    private void removeLeft() throws IOException {
        for (Path file : List.copyOf(copied.keySet())) {
            if (Files.notExists(file)) {
                store().delete(
                                new org.apache.hadoop.fs.Path(
                                        url + "/" + local.relativize(file).toString()),
                                false);
            }
        }
    }
}
