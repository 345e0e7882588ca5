package sharptally.api.job.keep;

import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.engines.files.kept.Kept;

/**
 * What was read of large dumps and is kept for the next time.
 *
 * @param folder where
 */
public record KeptDumps(Path folder) {
    /**
     * What is kept of one dump.
     *
     * @param name by which it is removed
     * @param dump where the dump was
     * @param bytes on disk
     * @param used when it was read last
     * @param goes when it goes by itself, if it is not read before
     */
    public record Entry(String name, String dump, int tables, long bytes, Instant used, Instant goes) {}

    /** What was read last comes first; what was to go by now is gone. */
    public List<Entry> list(Instant now) {
        Kept.removeOld(folder, now);
        return Kept.entries(folder).stream()
                .map(e -> new Entry(e.name(), e.dump(), e.tables(), e.bytes(), e.used(), e.goes()))
                .toList();
    }

    /**
     * Removes what is kept of some dumps.
     *
     * @return what was removed
     * @throws ToolException when nothing is kept by one of the names; then nothing is removed
     */
    public List<Entry> remove(List<String> names, Instant now) {
        List<Entry> all = list(now);
        for (String name : names) {
            if (all.stream().noneMatch(e -> e.name().equals(name))) {
                throw new ToolException(
                        ErrorKind.USAGE,
                        "nothing is kept by this name",
                        name,
                        all.isEmpty()
                                ? "nothing is kept at all"
                                : "there are: "
                                        + String.join(
                                                ", ",
                                                all.stream().map(Entry::name).toList()));
            }
        }
        List<Entry> removed = new ArrayList<>();
        for (Entry entry : all) {
            if (names.contains(entry.name())) {
                if (!Kept.remove(folder, entry.name())) {
                    throw new ToolException(
                            ErrorKind.READ,
                            "can't remove what is kept",
                            folder.resolve(entry.name()).toString(),
                            "remove the folder");
                }
                removed.add(entry);
            }
        }
        return removed;
    }
}
