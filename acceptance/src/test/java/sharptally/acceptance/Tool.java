package sharptally.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * The program in a folder: the built one as a process of its own, or, for the many runs of matrices and oracles, the same
 * classes within this process.
 *
 * @param apart whether each command is a process, as it must be where its start, its end, its environment, its rights or the
 *     time at which it runs matter
 */
record Tool(Path folder, boolean apart) {
    private static final ObjectMapper JSON = new ObjectMapper();

    private static Optional<Path> home = Optional.empty();

    Tool(Path folder) {
        this(folder, false);
    }

    /** Whose commands are processes. */
    static Tool apart(Path folder) {
        return new Tool(folder, true);
    }

    record Result(int code, String out, String err) {
        List<String> lines() {
            return out.lines().toList();
        }

        /** The result as a program reads it; the exit code in it is the one that the command ends with. */
        JsonNode json() {
            try {
                JsonNode whole = JSON.readTree(out);
                assertThat(whole.path("format").asInt()).as(all()).isEqualTo(1);
                assertThat(whole.path("exit-code").asInt()).as(all()).isEqualTo(code);
                assertThat(whole.path("verdict").asText())
                        .as(all())
                        .isIn(
                                code == 0
                                        ? List.of("same", "accepted", "done")
                                        : code == 1
                                                ? List.of("different")
                                                : List.of("failed", "refused", "incomplete"));
                if (whole.path("verdict").asText().equals("same")) {
                    // Nothing else looks at all rows.
                    assertThat(whole.path("command").asText()).as(all()).isIn("compare", "checksum");
                }
                return whole.get(code > 1 && !whole.has("result") ? "failure" : "result");
            } catch (IOException e) {
                throw new AssertionError(all(), e);
            }
        }

        String all() {
            return "exit " + code + "\n" + out + "\n" + err;
        }
    }

    /** The unpacked distribution that this build made. */
    static synchronized Path home() {
        if (home.isPresent()) {
            return home.get();
        }
        Path target = Path.of("..", "distribution", "target").toAbsolutePath().normalize();
        try (Stream<Path> found = Files.find(target, 4, (p, a) -> p.endsWith(Path.of("bin", "sharp-tally")))
                .sorted()) {
            home = found.findFirst().map(p -> p.getParent().getParent());
            startFast(home.orElseThrow());
            return home.orElseThrow();
        } catch (IOException e) {
            throw new IllegalStateException("build the distribution first: " + target, e);
        }
    }

    /** Makes what makes the program start fast, which it would make beside the first tests else, among their files. */
    private static void startFast(Path home) throws IOException {
        try (FileChannel one =
                FileChannel.open(home.resolve("lib/start.lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            // Until it is closed: tests run in more than one process.
            one.lock();
            process(home, "", List.of(home.resolve("bin/sharp-tally").toString(), "--make-archive"));
        }
    }

    Result run(String... arguments) {
        // The demo makes its databases by drivers, which name files for themselves.
        return apart || !Inside.works() || arguments[0].equals("demo")
                ? runWithInput("", named(arguments))
                : Inside.run(folder, named(arguments));
    }

    /** {@code apply --yes} wants the run named: it is the latest, unless another one is. */
    private String[] named(String... arguments) {
        List<String> all = new ArrayList<>(List.of(arguments));
        int apply = all.indexOf("apply");
        boolean bare = apply >= 0
                && all.contains("--yes")
                && !all.contains("--runs")
                && !all.contains("--job")
                && all.get(apply + 1).startsWith("--");
        if (bare && Files.isDirectory(folder.resolve("sharp-tally-runs"))) {
            all.add(apply + 1, latestRun(Tool::comparedRows).toString());
        }
        return all.toArray(new String[0]);
    }

    /** Totals make runs as well, which have no rows. */
    private static boolean comparedRows(Path run) {
        try {
            return !Files.readString(run.resolve("matches.json")).endsWith("[ ]}\n");
        } catch (IOException e) {
            return false;
        }
    }

    Result runWithInput(String input, String... arguments) {
        List<String> command =
                new ArrayList<>(List.of(home().resolve("bin/sharp-tally").toString()));
        command.addAll(Arrays.asList(arguments));
        return process(folder, input, command);
    }

    /** The same with more in its environment. */
    Result with(Map<String, String> environment, String... arguments) {
        List<String> command = new ArrayList<>(List.of("env"));
        environment.forEach((name, value) -> command.add(name + "=" + value));
        command.add(home().resolve("bin/sharp-tally").toString());
        command.addAll(Arrays.asList(named(arguments)));
        return process(folder, "", command);
    }

    /** Any program, its streams captured; fails when it takes over two minutes. */
    static Result process(Path folder, String input, List<String> command) {
        try {
            Process process =
                    new ProcessBuilder(command).directory(folder.toFile()).start();
            var out = CompletableFuture.supplyAsync(() -> read(process.getInputStream()));
            var err = CompletableFuture.supplyAsync(() -> read(process.getErrorStream()));
            try (var stdin = process.getOutputStream()) {
                stdin.write(input.getBytes(StandardCharsets.UTF_8));
            } catch (IOException e) {
                // it ended without reading what it was given
            }
            if (!process.waitFor(300, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new IllegalStateException("took too long: " + command);
            }
            return new Result(process.exitValue(), out.join(), err.join());
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    private static String read(InputStream in) {
        try (in) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /** All findings of that run. */
    List<String> findings() {
        try (Stream<Path> files = Files.list(latestRun().resolve("findings"))) {
            List<String> lines = new ArrayList<>();
            for (Path file : files.sorted().toList()) {
                lines.addAll(Files.readAllLines(file));
            }
            return lines;
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /** The folder of the run that was made last. */
    Path latestRun() {
        return latestRun(run -> Files.isDirectory(run));
    }

    private Path latestRun(java.util.function.Predicate<Path> wanted) {
        try (Stream<Path> runs = Files.list(folder.resolve("sharp-tally-runs"))) {
            return runs.filter(wanted)
                    .max(java.util.Comparator.comparing(p -> p.toFile().lastModified() + p.toString()))
                    .orElseThrow();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
