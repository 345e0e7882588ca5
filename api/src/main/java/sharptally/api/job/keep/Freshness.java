package sharptally.api.job.keep;

import com.fasterxml.jackson.core.JacksonException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.formats.run.Json;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;

/**
 * Whether a run is still the last word on its tables, so that something may be changed by it. A comparison that has begun
 * leaves a mark of its job beside its runs, which it takes away at its end; so one that failed before it had a folder is
 * known too.
 */
public final class Freshness {
    private static final String MARK = ".comparing-";

    private Freshness() {}

    /**
     * A comparison that has begun: of a job file, or of two places as the user wrote them.
     *
     * @param target of a job file only where that names several
     */
    record Begun(String at, Optional<String> jobFile, Optional<String> source, Optional<String> target, boolean told) {
        boolean isOf(RunSummary run) {
            return jobFile.isPresent()
                    ? jobFile.equals(run.job())
                            && target.filter(t -> !isOf(t, run.target().name())).isEmpty()
                    : source.filter(s -> isOf(s, run.source().name())).isPresent()
                            && target.filter(t -> isOf(t, run.target().name())).isPresent();
        }

        private static boolean isOf(String address, String place) {
            return address.replaceFirst("#.*", "").equals(place.replaceFirst("#.*", ""));
        }
    }

    /**
     * Marks that a comparison begins, where there is a folder of runs.
     *
     * @param jobFile its whole path
     * @param brokenOff is told when an earlier one of the same job began that neither came to its end nor said why not
     * @return the mark, to be taken away at the end
     */
    public static Optional<Path> begin(
            Path runs,
            Optional<String> jobFile,
            Optional<String> source,
            Optional<String> target,
            Consumer<String> brokenOff) {
        if (!Files.isDirectory(runs)) {
            return Optional.empty();
        }
        Begun begun = new Begun(Instant.now().toString(), jobFile, source, target, false);
        Path mark = runs.resolve(
                MARK + Integer.toHexString(List.of(jobFile, source, target).hashCode()));
        try {
            if (Files.isRegularFile(mark)) {
                Begun earlier = begunBy(mark);
                if (!earlier.told()) {
                    brokenOff.accept(earlier.at());
                }
            }
            Files.writeString(mark, Json.MAPPER.writeValueAsString(begun));
            return Optional.of(mark);
        } catch (IOException e) {
            throw cantMark(runs, e);
        }
    }

    /** Notes of a comparison that failed that this was told. */
    public static void failed(Path mark) {
        try {
            Begun begun = begunBy(mark);
            Files.writeString(
                    mark,
                    Json.MAPPER.writeValueAsString(
                            new Begun(begun.at(), begun.jobFile(), begun.source(), begun.target(), true)));
        } catch (IOException e) {
            throw cantMark(mark, e);
        }
    }

    /** Takes the mark of a comparison that has ended. */
    public static void end(Path mark) {
        try {
            Files.deleteIfExists(mark);
        } catch (IOException e) {
            throw cantMark(mark, e);
        }
    }

    private static ToolException cantMark(Path runs, IOException e) {
        return new ToolException(
                ErrorKind.INCOMPLETE,
                "can't write into the folder of runs",
                runs + " (" + e.getMessage() + ")",
                Hint.ROOM_FOR_RUNS,
                e);
    }

    /**
     * @param runs where the run and others like it are
     * @param named whether the user said which run or job file is meant
     * @throws ToolException as {@code REFUSED} when a later comparison says more than this run, or failed
     */
    public static void check(RunFolder run, Path runs, boolean named) {
        checkBegun(run, runs, named);
        RunFolder.all(runs, other -> isLater(other, run) && isOfSame(other.summary(), run.summary())).stream()
                .reduce((earlier, later) -> later)
                .ifPresent(later -> {
                    boolean ended = later.summary().state() == RunState.COMPLETE;
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            ended
                                    ? "a later run has looked at the same tables"
                                    : "a later run of the same tables is not complete",
                            run.folder() + " (later: " + later.folder() + ")",
                            ended ? "take the later one" : "compare again");
                });
    }

    /**
     * The same of comparisons alone that began after the run and have come to no end.
     *
     * @throws ToolException as {@code REFUSED} when there is one
     */
    public static void checkBegun(RunFolder run, Path runs, boolean named) {
        Instant began = Instant.parse(run.summary().started());
        begun(runs).stream()
                .filter(b -> Instant.parse(b.at()).isAfter(began))
                .filter(b -> !named || b.isOf(run.summary()))
                .findFirst()
                .ifPresent(b -> {
                    throw new ToolException(
                            ErrorKind.REFUSED,
                            "the last comparison, begun " + b.at().replaceAll("\\.\\d+Z$", "Z")
                                    + ", is not complete, so this run may not be what is meant",
                            run.folder().toString(),
                            named ? "compare again" : "compare again, or name the run");
                });
    }

    private static List<Begun> begun(Path runs) {
        List<Begun> all = new ArrayList<>();
        try (DirectoryStream<Path> marks = Files.newDirectoryStream(runs, MARK + "*")) {
            for (Path mark : marks) {
                all.add(begunBy(mark));
            }
            return all;
        } catch (IOException e) {
            throw cantMark(runs, e);
        }
    }

    private static Begun begunBy(Path mark) throws IOException {
        try (InputStream in = Files.newInputStream(mark)) {
            return Json.MAPPER.readValue(in, Begun.class);
        } catch (JacksonException e) {
            // Cut short: that a comparison began, and when, is known all the same.
            String at = Files.getLastModifiedTime(mark).toInstant().toString();
            return new Begun(at, Optional.empty(), Optional.empty(), Optional.empty(), false);
        }
    }

    private static boolean isLater(RunFolder other, RunFolder run) {
        boolean sameFolder = other.folder()
                .toAbsolutePath()
                .normalize()
                .equals(run.folder().toAbsolutePath().normalize());
        Instant began = Instant.parse(other.summary().started());
        return !sameFolder
                && !other.matches().isEmpty()
                && began.isAfter(Instant.parse(run.summary().started()));
    }

    private static boolean isOfSame(RunSummary other, RunSummary run) {
        return run.job().isPresent() ? run.isOfSameJob(other) : other.job().isEmpty() && other.isOfSameTables(run);
    }
}
