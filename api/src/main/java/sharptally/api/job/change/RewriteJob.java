package sharptally.api.job.change;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Address;
import sharptally.core.place.Endpoint;
import sharptally.core.script.Change;
import sharptally.core.script.ChangeCounts;
import sharptally.core.script.ChangePlan;
import sharptally.core.script.ChangePreview;
import sharptally.core.script.ChangeSink;
import sharptally.core.script.Direction;
import sharptally.core.script.rewrite.Rewrites;
import sharptally.core.script.rewrite.RowChanges;
import sharptally.engines.Engines;
import sharptally.formats.run.AuditLog;

/**
 * Writes the files of a place anew with chosen findings of a run: the old ones stay as they are, and so are what takes it back.
 *
 * @param target the files that were compared
 */
public record RewriteJob(TargetChanges mending, Endpoint target) {
    private static final String FIXED = "fixed";

    /**
     * What was written.
     *
     * @param files by the table that they hold
     * @param kept the old files, which are untouched
     */
    public record Written(
            ChangeCounts counts,
            List<String> warnings,
            Optional<String> leftOut,
            Map<String, List<Path>> files,
            List<Path> kept) {}

    /** What would be done. */
    public ChangePreview.Found outlook() {
        return mending.outlook();
    }

    /**
     * The name of a new file that is wanted beside the old one: that one's with {@code fixed} in it.
     *
     * @throws ToolException when they are several, or the place is already taken
     */
    public Path beside() {
        List<Path> old = old();
        if (old.size() != 1) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "there are " + old.size() + " files to write anew",
                    mending.place(),
                    "let script write them, into the run's folder or one that you name");
        }
        String name = old.get(0).getFileName().toString();
        int dot = name.indexOf('.', 1);
        Path to = old.get(0)
                .resolveSibling(
                        dot < 0 ? name + "." + FIXED : name.substring(0, dot) + "." + FIXED + name.substring(dot));
        if (Files.exists(to)) {
            throw new ToolException(
                    ErrorKind.REFUSED,
                    "there is such a file already",
                    to.toString(),
                    "move it away, or let script write");
        }
        return to;
    }

    /** The name of the one new file, or nothing for a folder of several. */
    public String name() {
        List<Path> old = old();
        return old.size() == 1 ? old.get(0).getFileName().toString() : "";
    }

    /** Puts a new file beside the old one, where that is not on this machine; its address there. */
    public Optional<String> publish(Path file) {
        return rewrites().publish(target.access(), file);
    }

    /** The same place, of which one table is in another file. */
    public Endpoint with(Path file, String table) {
        Address there = new Address(target.address().engine(), file.toString(), Optional.of(table));
        return new Endpoint(target.engine(), target.access().at(there).called(there));
    }

    private Rewrites rewrites() {
        return Engines.rewrites(target.address()).orElseThrow();
    }

    private List<TableMatch> touched() {
        return mending.plan(Direction.MEND).touched();
    }

    private List<Path> old() {
        return touched().stream()
                .flatMap(
                        m -> rewrites().files(target.access(), m.target().name().toString()).stream())
                .toList();
    }

    /**
     * Writes them.
     *
     * @param to the new file; a folder where there are several
     */
    public Written write(Path to) {
        ChangePreview.Found found = mending.outlook();
        ChangePlan plan = mending.plan(Direction.MEND);
        Map<TableMatch, RowChanges> changes = new LinkedHashMap<>();
        plan.play(new ChangeSink() {
            @Override
            public void beginTable(TableMatch match, Stage stage) {
                changes.computeIfAbsent(match, RowChanges::new);
            }

            @Override
            public void change(TableMatch match, Change change) {
                changes.get(match).add(change);
            }

            @Override
            public void endTable(TableMatch match, Stage stage, long rows) {
                // All of a table is done at once.
            }
        });
        Map<String, List<Path>> written = new LinkedHashMap<>();
        List<Path> kept = new ArrayList<>();
        for (Map.Entry<TableMatch, RowChanges> each : changes.entrySet()) {
            String table = each.getValue().table();
            List<Path> files = rewrites().files(target.access(), table);
            boolean several = changes.size() > 1 || files.size() > 1;
            Path into = several && files.size() == 1 ? to.resolve(files.get(0).getFileName()) : to;
            prepare(several ? to : to.toAbsolutePath().getParent());
            files.stream()
                    .filter(f -> isSame(f, several ? to.resolve(f.getFileName()) : to))
                    .findFirst()
                    .ifPresent(f -> {
                        throw new ToolException(
                                ErrorKind.REFUSED,
                                "the old file would be written over",
                                f.toString(),
                                "name another one");
                    });
            written.put(table, rewrites().rewrite(target.access(), each.getValue(), into));
            kept.addAll(files);
        }
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("changes", mending.place());
        details.put("tables", found.counts().tables());
        details.put(
                "files",
                written.values().stream()
                        .flatMap(List::stream)
                        .map(f -> Map.of("file", f.toAbsolutePath().toString(), "sha256", AuditLog.sha256(f)))
                        .toList());
        new AuditLog(mending.run(), mending.clock()).add("new file", details);
        return new Written(found.counts(), found.warnings(), mending.leftOut(), written, kept);
    }

    private static boolean isSame(Path one, Path other) {
        try {
            return Files.exists(other) && Files.isSameFile(one, other);
        } catch (IOException e) {
            return one.toAbsolutePath()
                    .normalize()
                    .equals(other.toAbsolutePath().normalize());
        }
    }

    private static void prepare(Path folder) {
        try {
            Files.createDirectories(folder);
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't make the folder",
                    folder + " (" + e.getMessage() + ")",
                    "make room",
                    e);
        }
    }
}
