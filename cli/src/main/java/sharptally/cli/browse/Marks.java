package sharptally.cli.browse;

import java.nio.file.Path;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import sharptally.core.finding.FindingKind;
import sharptally.core.match.TableMatch;
import sharptally.formats.run.RunFolder;
import sharptally.formats.run.SelectionFile;

/** The rows of a run that were marked, and whether they are saved. Used by one thread. */
final class Marks {
    private final Map<String, BitSet> places = new HashMap<>();
    private boolean unsaved;

    /** Whether the row in this place among the findings of a table is marked. */
    boolean has(TableMatch table, int place) {
        return places.getOrDefault(table.name(), new BitSet()).get(place);
    }

    /** Marks a row, or takes its mark away. */
    void flip(TableMatch table, int place) {
        of(table).flip(place);
        unsaved = count() > 0;
    }

    /** Marks all of some rows; where all of them are marked, none. */
    void flipAll(TableMatch table, int[] all) {
        BitSet marked = of(table);
        boolean none = true;
        for (int place : all) {
            none &= marked.get(place);
        }
        for (int place : all) {
            marked.set(place, !none);
        }
        unsaved = count() > 0;
    }

    private BitSet of(TableMatch table) {
        return places.computeIfAbsent(table.name(), name -> new BitSet());
    }

    long count() {
        return places.values().stream().mapToLong(BitSet::cardinality).sum();
    }

    /** Whether there are marks that no file has. */
    boolean unsaved() {
        return unsaved;
    }

    /**
     * Saves the marked rows, but for repeated keys, which nothing can be done with.
     *
     * @return how many rows were written
     * @throws sharptally.core.fault.ToolException when the file can't be written
     */
    long save(RunFolder run, Path file) {
        Map<String, int[]> passed = new HashMap<>();
        long written = SelectionFile.write(file, run, (match, finding) -> {
            int place = passed.computeIfAbsent(match.name(), m -> new int[1])[0]++;
            return has(match, place) && finding.kind() != FindingKind.REPEATED;
        });
        unsaved = false;
        return written;
    }
}
