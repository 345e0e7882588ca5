package sharptally.api.job.keep;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.formats.run.RunWriter;

class KeptRunsTest {
    @TempDir
    Path folder;

    private static RunFolder run(Path runs, Instant started, String job) {
        RunWriter writer = RunWriter.create(runs, started);
        writer.writeMatches(List.of());
        writer.writeSummary(new RunSummary(
                RunSummary.FORMAT,
                "",
                writer.folder().getFileName().toString(),
                RunState.COMPLETE,
                started.toString(),
                0,
                Optional.empty(),
                Optional.of(job),
                Optional.empty(),
                RunSummary.Database.NONE,
                RunSummary.Database.NONE,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false));
        return RunFolder.open(writer.folder());
    }

    /** However many begin within a second, and however many of those are gone by then. */
    @Test
    void theLastRunsOfAJobStayAndTheLatestIsTheOneThatBeganLast() throws Exception {
        long seed = System.nanoTime();
        System.out.println("seed " + seed);
        Random random = new Random(seed);
        for (int round = 0; round < 20; round++) {
            Path runs = Files.createDirectory(folder.resolve("runs" + round));
            Instant now = Instant.parse("2026-03-01T01:10:00Z");
            List<List<Path>> expected = List.of(new ArrayList<>(), new ArrayList<>());
            for (int i = 0; i < 25; i++) {
                now = now.plusMillis(random.nextInt(200));
                int job = random.nextInt(2);
                RunFolder run = run(runs, now, "job" + job);
                List<Path> all = expected.get(job);
                all.add(run.folder());
                if (random.nextBoolean()) {
                    int keep = 1 + random.nextInt(4);
                    int removed = KeptRuns.only(keep, run);
                    assertThat(removed).as("seed " + seed).isEqualTo(Math.max(0, all.size() - keep));
                    all.subList(0, removed).clear();
                }
                assertThat(RunFolder.latest(runs, any -> true).folder())
                        .as("seed " + seed)
                        .isEqualTo(run.folder());
                Set<Path> left = new HashSet<>();
                RunFolder.all(runs, any -> true).forEach(other -> left.add(other.folder()));
                Set<Path> wanted = new HashSet<>(expected.get(0));
                wanted.addAll(expected.get(1));
                assertThat(left).as("seed " + seed).isEqualTo(wanted);
            }
        }
    }
}
