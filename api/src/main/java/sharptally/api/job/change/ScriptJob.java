package sharptally.api.job.change;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.Hint;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.place.Side;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.Direction;
import sharptally.core.script.write.ScriptForm;
import sharptally.core.script.write.ScriptForm.Style;
import sharptally.core.script.write.ScriptSafeguards;
import sharptally.core.script.write.ScriptWriter;
import sharptally.core.sql.ShellText;
import sharptally.formats.run.AuditLog;
import sharptally.formats.run.RunSummary;
import sharptally.report.text.ChangeText;

/** Writes the script of a run, and the undo script beside it. */
public record ScriptJob(
        TargetChanges mending, Path script, Optional<Style> style, ScriptForm asked, String place, Address address) {
    public ScriptJob(TargetChanges mending, Path script, Optional<Style> style, ScriptForm asked) {
        this(mending, script, style, asked, mending.place(), mending.address());
    }

    /** Up to so many changes are written one by one, unless something else is asked for. */
    private static final long MAX_BY_ROW = 500;

    /** What was written. */
    public record Written(
            ChangeCounts counts,
            List<String> warnings,
            Optional<String> leftOut,
            Path script,
            Path undo,
            String howToRun) {}

    /**
     * @throws ToolException when the run proves nothing, or a file can't be written; no half-written file is left
     */
    public Written write() {
        if (mending.isOfFiles()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "a file is written anew, no SQL changes it",
                    mending.place(),
                    "let the command script write the new file");
        }
        if (style.equals(Optional.of(Style.MERGE)) && !mending.dialect().hasTemporaryTables()) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "this engine has no temporary tables, in which this style puts rows first",
                    mending.place(),
                    "take the style batch");
        }
        Path undo = undoFile();
        asked.caution().check(mending.dialect(), mending.plan(Direction.MEND).matches());
        ChangePlan mend = mending.plan(Direction.MEND);
        ChangePlan back = mending.plan(Direction.UNDO);
        ChangePreview.Found found = mending.outlook();
        ChangeCounts counts = found.counts();
        ScriptForm form = new ScriptForm(
                style.orElse(counts.all() > MAX_BY_ROW ? Style.BATCH : Style.ROW),
                asked.guarded(),
                asked.oldValues(),
                asked.forClient(),
                asked.caution());
        ScriptSafeguards undoCaution = form.caution().withoutKeeping();
        write(
                form,
                mend,
                counts,
                header(
                        found.warnings(),
                        counts,
                        Optional.of("take it back  " + howToRun(undo)),
                        "",
                        script,
                        Direction.MEND),
                script);
        write(
                new ScriptForm(form.style(), form.guarded(), form.oldValues(), form.forClient(), undoCaution),
                back,
                counts,
                header(
                        List.of(),
                        counts.reversed(),
                        Optional.of("do it again   " + howToRun(script)),
                        script.getFileName().toString(),
                        undo,
                        Direction.UNDO),
                undo);
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("changes", mending.place());
        details.put("tables", counts.tables());
        details.put("script", script.toAbsolutePath().toString());
        details.put("sha256", AuditLog.sha256(script));
        details.put("undo", undo.toAbsolutePath().toString());
        details.put("undo-sha256", AuditLog.sha256(undo));
        new AuditLog(mending.run(), mending.clock()).add("script", details);
        return new Written(counts, found.warnings(), mending.leftOut(), script, undo, howToRun(script));
    }

    /**
     * Writes, in the run's folder, what takes changes back that are made from here.
     *
     * @param target the place that is changed, which may be another one than was compared
     */
    static Path undoOfApply(TargetChanges mending, Endpoint target, ChangeCounts counts, ScriptSafeguards caution) {
        Path folder = mending.run().folder();
        Path undo = folder.resolve("undo-apply.sql");
        for (int n = 2; Files.exists(undo); n++) {
            undo = folder.resolve("undo-apply." + n + ".sql");
        }
        ScriptForm form = new ScriptForm(
                counts.all() > MAX_BY_ROW ? Style.BATCH : Style.ROW, true, false, true, caution.withoutKeeping());
        ScriptJob job = new ScriptJob(
                mending, undo, Optional.empty(), form, target.label().toString(), target.address());
        job.write(
                form,
                mending.plan(Direction.UNDO),
                counts,
                job.header(List.of(), counts.reversed(), Optional.empty(), "apply", undo, Direction.UNDO),
                undo);
        return undo;
    }

    private Path undoFile() {
        String name = script.getFileName().toString();
        String undo = name.equals("script.sql") ? "undo.sql" : name.replaceAll("(\\.sql)?$", "") + ".undo.sql";
        return script.resolveSibling(undo);
    }

    private String howToRun(Path file) {
        return mending.dialect().howToRun(address.location()).replace("FILE", ShellText.quoted(file.toString()));
    }

    private List<String> header(
            List<String> warnings,
            ChangeCounts counts,
            Optional<String> back,
            String done,
            Path file,
            Direction direction) {
        RunSummary summary = mending.run().summary();
        boolean ofTarget = mending.toward() == Side.TARGET;
        List<String> lines = new ArrayList<>();
        lines.add(
                direction == Direction.MEND
                        ? ofTarget ? "Makes the target like the source." : "Makes the source like the target."
                        : "Takes back what " + done + " did.");
        lines.add("");
        lines.add("source  " + (ofTarget ? summary.source().name() : place + "   (this one is changed)"));
        lines.add("target  " + (ofTarget ? place : summary.target().name()));
        lines.add("run     " + summary.run() + ", written by sharp-tally " + summary.tool());
        lines.add("");
        if (counts.tables().isEmpty()) {
            lines.add("There is nothing to change.");
            return lines;
        }
        lines.addAll(ChangeText.lines(counts, sharptally.report.text.Style.PLAIN));
        warnings.forEach(warning -> lines.add("warning: " + warning));
        mending.leftOut().ifPresent(lines::add);
        lines.add("");
        lines.addAll(promises());
        lines.add("");
        lines.add("run it        " + howToRun(file));
        back.ifPresent(lines::add);
        return lines;
    }

    /** What can be relied on when the script is run, and no more. */
    private List<String> promises() {
        List<String> partial = mending.plan(Direction.MEND).touched().stream()
                .map(TableMatch::target)
                .filter(ScriptSafeguards::isPartial)
                .map(t -> t.name().toString())
                .toList();
        List<String> lines = new ArrayList<>(
                partial.isEmpty()
                        ? List.of("It is one transaction: all of it is done, or nothing.")
                        : List.of(
                                "NO TRANSACTION holds changes together in " + String.join(", ", partial) + ":",
                                "what is done before a failure stays done."));
        if (!asked.guarded()) {
            lines.add(
                    "It was asked for WITHOUT guards: rows are found by their keys alone, and what others changed in");
            lines.add("them since is lost.");
            return lines;
        }
        lines.add("Each statement touches its rows only while they hold what they held when they were compared.");
        lines.add(
                !mending.dialect().stopsByItself()
                        ? "Of a row that has changed since, nothing is touched and nothing is said: compare again afterwards."
                        : partial.isEmpty()
                                ? "If one has changed since, the whole script stops and nothing is done."
                                : "If one has changed since, the script stops at its next check: recheck the run then.");
        if (asked.caution().narrowGuards()) {
            lines.add("It was asked for with NARROW guards: of rows that are updated only the key and the changed");
            lines.add("columns are looked at.");
        }
        return lines;
    }

    private void write(ScriptForm form, ChangePlan plan, ChangeCounts counts, List<String> header, Path file) {
        Path draft = file.resolveSibling(file.getFileName() + ".draft");
        try {
            try (BufferedWriter out = Files.newBufferedWriter(draft)) {
                ScriptWriter writer = new ScriptWriter(mending.dialect(), form, out);
                if (counts.all() == 0) {
                    writer.write(header);
                } else {
                    writer.write(plan, address.location(), header);
                }
            }
            try (FileChannel written = FileChannel.open(draft, StandardOpenOption.WRITE)) {
                written.force(true);
            }
            Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException | UncheckedIOException e) {
            Throwable cause = e instanceof UncheckedIOException ? e.getCause() : e;
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the script",
                    file + " (" + cause.getMessage() + ")",
                    Hint.ROOM_FOR_OUTPUT,
                    e);
        } finally {
            deleteIfThere(draft);
        }
    }

    private static void deleteIfThere(Path draft) {
        try {
            Files.deleteIfExists(draft);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
