package sharptally.cli.option;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import sharptally.api.job.CompareRequest;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.formats.job.JobFileReader;
import sharptally.formats.run.RunFolder;

/** The run that a command works on. */
public final class RunChoice {
    public static final String DEFAULT_RUNS = "sharp-tally-runs";

    @Parameters(paramLabel = "RUN", arity = "0..1", description = "The run's folder, or latest, the default.")
    public Optional<Path> run = Optional.empty();

    @Option(
            names = "--runs",
            paramLabel = "FOLDER",
            defaultValue = DEFAULT_RUNS,
            description = "Where runs are kept. Default: ${DEFAULT-VALUE}.")
    public Path runs = Path.of(DEFAULT_RUNS);

    @Option(names = "--job", paramLabel = "FILE", description = "The latest run of this job file.")
    public Optional<Path> jobFile = Optional.empty();

    @Option(names = "--max-age", paramLabel = "TIME", description = "Refuse a run that began longer ago, as 2h.")
    Optional<String> maxAge = Optional.empty();

    /** The run that is named, else the latest one, whatever it did. */
    public RunFolder open() {
        return opened(folder -> true);
    }

    private RunFolder opened(Predicate<RunFolder> wanted) {
        return fresh(named(
                run.orElse(Path.of(CompareRequest.Besides.LATEST)),
                runs,
                folder -> isOfJobFile(folder) && wanted.test(folder)));
    }

    /**
     * The run of a folder, or by the word {@code latest} the latest of those that are wanted.
     *
     * @param runs where runs are kept
     */
    public static RunFolder named(Path run, Path runs, Predicate<RunFolder> wanted) {
        return run.toString().equals(CompareRequest.Besides.LATEST) && !Files.exists(run)
                ? RunFolder.latest(runs, wanted)
                : RunFolder.open(run);
    }

    private RunFolder fresh(RunFolder found) {
        maxAge.map(text -> Durations.parse("--max-age", text)).ifPresent(most -> {
            if (age(found).compareTo(most) > 0) {
                throw new ToolException(
                        ErrorKind.REFUSED, "the run began longer ago than --max-age", told(found), "compare again");
            }
        });
        return found;
    }

    private static Duration age(RunFolder folder) {
        return Duration.between(
                Instant.parse(folder.summary().started()), Clock.systemUTC().instant());
    }

    /** Which run it is, and how old: so that none is taken for another. */
    public static String told(RunFolder folder) {
        return "run " + folder.folder() + ", begun "
                + folder.summary().started().replaceAll("\\.\\d+Z$", "Z") + ", " + Durations.told(age(folder)) + " ago";
    }

    private boolean isOfJobFile(RunFolder folder) {
        return isOf(jobFile, folder);
    }

    /** Whether a run was made by this job file; any is where no job file is named. */
    public static boolean isOf(Optional<Path> jobFile, RunFolder folder) {
        return jobFile.isEmpty()
                || folder.summary()
                        .job()
                        .filter(JobFileReader.nameOf(jobFile.get())::equals)
                        .isPresent();
    }

    /** The run that is named, else the latest one that compared rows. */
    public RunFolder openComparison() {
        return opened(folder -> !folder.matches().isEmpty());
    }

    /** The folder in which a run lies. */
    public Path folderOf(RunFolder folder) {
        return run.map(r -> folder.folder().toAbsolutePath().normalize().getParent())
                .orElse(runs);
    }

    /** A command about this run: it is named where it was, else it is the latest of its folder. */
    public List<String> command(String name, RunFolder folder) {
        List<String> words = new ArrayList<>(List.of(name));
        if (run.isPresent()) {
            words.add(folder.folder().toString());
        } else {
            words.addAll(of(runs));
        }
        return words;
    }

    /** The words that name a folder of runs; none for the usual one. */
    public static List<String> of(Path runs) {
        return runs.equals(Path.of(DEFAULT_RUNS)) ? List.of() : List.of("--runs", runs.toString());
    }
}
