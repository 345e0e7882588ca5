package sharptally.cli.job;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.Glob;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.Direction;
import sharptally.core.script.ScriptWriter;
import sharptally.engines.Engines;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.RunState;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.ChangeText;
import sharptally.report.text.Style;

/**
 * Writes the script of a run, and the undo script beside it.
 *
 * @param only names of the matches that the script is for, with wildcards; empty for all
 */
public record ScriptJob(RunFolder run, Path script, List<Glob> only) {
    /** What was written. */
    public record Written(ChangeCounts counts, List<String> warnings, Path script, Path undo, String howToRun) {}

    /**
     * @throws ToolException when the run proves nothing, or a file can't be written; no half-written file is left
     */
    public Written write() {
        requireComplete(run);
        Address target = Address.parse(run.summary().targetAddress());
        Engine engine = Engines.of(target);
        Path undo = undoFile();
        List<TableMatch> chosen = chosen(run, only);
        ChangePlan mend = new ChangePlan(chosen, run, Direction.MEND, engine.dialect());
        ChangePlan back = new ChangePlan(chosen, run, Direction.UNDO, engine.dialect());
        ChangeCounts counts = ChangeCounts.of(mend);
        write(engine, mend, header(engine, target, counts, script, undo, Direction.MEND), script);
        write(engine, back, header(engine, target, ChangeCounts.of(back), undo, script, Direction.UNDO), undo);
        List<String> warnings = new ArrayList<>(warnings(run));
        leftOut(run, chosen).ifPresent(warnings::add);
        return new Written(counts, warnings, script, undo, howToRun(engine, target, script));
    }

    /**
     * The matches that are chosen.
     *
     * @throws ToolException when there is none of such a name
     */
    private static List<TableMatch> chosen(RunFolder run, List<Glob> only) {
        List<TableMatch> chosen = run.matches().stream()
                .filter(m -> only.isEmpty() || only.stream().anyMatch(g -> g.matches(m.name())))
                .toList();
        if (chosen.isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no such table in this run",
                    String.join(", ", only.stream().map(Glob::text).toList()),
                    "there are: "
                            + String.join(
                                    ", ",
                                    run.matches().stream().map(TableMatch::name).toList()));
        }
        return chosen;
    }

    /** What was left out on request, a sentence; empty where nothing was. */
    private static Optional<String> leftOut(RunFolder run, List<TableMatch> chosen) {
        List<String> others = run.matches().stream()
                .filter(m -> !chosen.contains(m))
                .filter(m -> run.summaryOf(m).filter(t -> t.differences() > 0).isPresent())
                .map(TableMatch::name)
                .toList();
        return others.isEmpty()
                ? Optional.empty()
                : Optional.of("left out on request, though they differ: " + String.join(", ", others));
    }

    static void requireComplete(RunFolder run) {
        if (run.matches().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE, "the run compared no rows", run.folder().toString(), "compare first");
        }
        if (run.summary().state() != RunState.COMPLETE) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "the run did not go to its end, so its findings may not be all",
                    run.folder().toString(),
                    "compare again");
        }
    }

    /** What a person must know before the changes are made, a sentence each. */
    static List<String> warnings(RunFolder run) {
        Stream<String> leftOut = run.matches().stream()
                .filter(m -> run.summaryOf(m).filter(t -> t.differences() > 0).isPresent())
                .flatMap(m ->
                        m.notWritable().map(why -> "nothing is done about match " + m.name() + ": " + why).stream());
        Stream<String> lost = run.matches().stream()
                .filter(m -> run.summaryOf(m).filter(t -> t.extra() > 0).isPresent())
                .flatMap(m -> m.unreadable().stream()
                        .map(c -> "rows deleted from " + m.target().name() + " can't be put back with column "
                                + c.name() + " (" + c.declaredType() + "), which can't be read"));
        return Stream.concat(leftOut, lost).toList();
    }

    private Path undoFile() {
        String name = script.getFileName().toString();
        String undo = name.equals("script.sql") ? "undo.sql" : name.replaceAll("(\\.sql)?$", "") + ".undo.sql";
        return script.resolveSibling(undo);
    }

    private static String howToRun(Engine engine, Address target, Path file) {
        return engine.dialect().howToRun(target.location()).replace("FILE", file.toString());
    }

    private List<String> header(
            Engine engine, Address target, ChangeCounts counts, Path file, Path other, Direction direction) {
        RunSummary summary = run.summary();
        List<String> lines = new ArrayList<>();
        lines.add(
                direction == Direction.MEND
                        ? "Makes the target like the source."
                        : "Takes back what " + other.getFileName() + " did.");
        lines.add("");
        lines.add("source  " + summary.source());
        lines.add("target  " + summary.target());
        lines.add("run     " + summary.run() + ", written by sharp-tally " + summary.tool());
        lines.add("");
        if (counts.tables().isEmpty()) {
            lines.add("There is nothing to change.");
            return lines;
        }
        lines.addAll(ChangeText.lines(counts, Style.PLAIN));
        warnings(run).forEach(warning -> lines.add("warning: " + warning));
        leftOut(run, chosen(run, only)).ifPresent(lines::add);
        lines.add("");
        lines.add("It is one transaction: all of it is done, or nothing. Each statement touches its row only");
        lines.add("while that holds what it held when it was compared; if one finds its row changed since,");
        lines.add("the whole script stops and nothing is done.");
        lines.add("");
        lines.add("run it        " + howToRun(engine, target, file));
        lines.add(
                direction == Direction.MEND
                        ? "take it back  " + howToRun(engine, target, other)
                        : "do it again   " + howToRun(engine, target, other));
        return lines;
    }

    private static void write(Engine engine, ChangePlan plan, List<String> header, Path file) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            try (BufferedWriter out = Files.newBufferedWriter(draft)) {
                new ScriptWriter(engine.dialect(), out).write(plan, header);
            }
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException | UncheckedIOException e) {
            deleteDraft(draft, e);
            Throwable cause = e instanceof UncheckedIOException ? e.getCause() : e;
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the script",
                    file + " (" + cause.getMessage() + ")",
                    "make room, or choose another place with --out",
                    e);
        }
    }

    private static void deleteDraft(Path draft, Exception cause) {
        try {
            Files.deleteIfExists(draft);
        } catch (IOException e) {
            cause.addSuppressed(e);
        }
    }
}
