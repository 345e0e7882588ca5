package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.rows.Cast;
import sharptally.core.rows.Column;
import sharptally.core.rows.KeyOrder;
import sharptally.core.rows.RowCodec;
import sharptally.core.script.rewrite.RowChanges;
import sharptally.core.script.rewrite.RowChanges.Fate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Value;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Origin;
import sharptally.engines.files.text.RowsOfFile;
import sharptally.engines.files.write.RewrittenFile;
import sharptally.engines.files.write.Writing;
import sharptally.engines.files.write.WrittenLike;

/** Writes the files of one table anew, in two goes: one that finds the lines of all changes, one that copies all others. */
final class FileRewriting {
    private static final int ROWS_AT_ONCE = 512;

    private final FileKind kind;
    private final FileForm form;
    private final FileTable table;
    private final RowChanges changes;
    private final List<ColumnShape> looked;
    /** Rows to be inserted that did not find their place in the order of the key yet. */
    private final NavigableMap<List<Value>, Map<String, Value>> waiting = new TreeMap<>(KeyOrder.ASCENDING);

    private final List<Map<String, Value>> unordered = new ArrayList<>();
    private Optional<List<Value>> before = Optional.empty();
    private boolean ordered;
    /** How the first value of each column is written. */
    private final Map<String, String> seen = new HashMap<>();

    FileRewriting(FileKind kind, FileForm form, FileTable table, RowChanges changes) {
        this.kind = kind;
        this.form = form;
        this.table = table;
        this.changes = changes;
        this.looked = changes.looked();
        this.ordered = changes.hasKey();
        for (Map<String, Value> row : changes.inserts()) {
            List<Value> key = changes.key().stream()
                    .map(c -> row.getOrDefault(c.name(), Value.NULL))
                    .toList();
            if (!changes.hasKey() || waiting.putIfAbsent(key, row) != null) {
                unordered.add(row);
            }
        }
    }

    /**
     * @param into the new file, or the folder of several
     */
    List<Path> write(Path into) {
        Map<Path, RewrittenFile> found = new LinkedHashMap<>();
        List<FileState> states = table.files().stream().map(FileState::of).toList();
        Optional<Last> last = Optional.empty();
        for (Path file : table.files()) {
            last = Optional.of(scan(file));
            found.put(file, last.get().file);
        }
        changes.finish(Origin.of(table.files().get(0)));
        RewrittenFile end = last.orElseThrow().file;
        if (!ordered) {
            found.values().forEach(RewrittenFile::appendAll);
        }
        for (Map<String, Value> row : waiting.values()) {
            end.append(last.get().record(row));
        }
        for (Map<String, Value> row : unordered) {
            end.append(last.get().record(row));
        }
        boolean folder = table.files().size() > 1;
        List<Path> written = new ArrayList<>();
        try {
            for (Map.Entry<Path, RewrittenFile> each : found.entrySet()) {
                Path to = folder ? into.resolve(each.getKey().getFileName()) : into;
                Path draft = to.resolveSibling(to.getFileName() + ".draft");
                written.add(draft);
                each.getValue().write(draft);
            }
            states.forEach(FileState::check);
            List<Path> named = new ArrayList<>();
            for (Path draft : written) {
                Path to = draft.resolveSibling(draft.getFileName().toString().replaceAll("\\.draft$", ""));
                named.add(Files.move(draft, to, StandardCopyOption.ATOMIC_MOVE));
            }
            return named;
        } catch (IOException e) {
            throw new ToolException(
                    ErrorKind.INCOMPLETE,
                    "can't write the new file",
                    into + ": " + e.getMessage(),
                    "make room there",
                    e);
        } finally {
            written.forEach(FileRewriting::remove);
        }
    }

    private static void remove(Path draft) {
        try {
            Files.deleteIfExists(draft);
        } catch (IOException e) {
            // Whoever looks finds a draft.
        }
    }

    /** The file that was gone through last, to which rows are added. */
    private record Last(
            RewrittenFile file, Writing writing, List<String> names, Function<Value, Optional<String>>[] like) {
        String record(Map<String, Value> row) {
            List<Optional<String>> fields = new ArrayList<>();
            for (int i = 0; i < names.size(); i++) {
                fields.add(like[i].apply(row.getOrDefault(names.get(i), Value.NULL)));
            }
            return writing.record(fields);
        }
    }

    private Last scan(Path file) {
        try (RowsOfFile rows = kind.open(file, form)) {
            Writing writing = rows.writing()
                    .orElseThrow(() -> FileProblem.of(
                            file, "a file of this kind can't be rewritten", "write it as CSV, and compare that"));
            RewrittenFile rewritten = new RewrittenFile(file, writing.charset());
            List<String> names = rows.names();
            List<Optional<Cast>> casts = looked.stream()
                    .map(c -> Cast.ofWriting(c.type().orElseThrow()))
                    .toList();
            int[] places =
                    looked.stream().mapToInt(c -> names.indexOf(c.name())).toArray();
            long[] first = new long[ROWS_AT_ONCE];
            long[] last = new long[ROWS_AT_ONCE];
            boolean more = true;
            while (more) {
                List<Column> batch = RowCodec.emptyColumns(names.size(), ROWS_AT_ONCE);
                int count = 0;
                while (count < ROWS_AT_ONCE && more) {
                    more = rows.next();
                    if (!more) {
                        break;
                    }
                    for (int i = 0; i < names.size(); i++) {
                        rows.add(i, batch.get(i));
                    }
                    first[count] = rows.line();
                    last[count++] = rows.lastLine();
                }
                List<Column> typed = new ArrayList<>();
                for (int i = 0; i < places.length; i++) {
                    Column read = batch.get(places[i]);
                    typed.add(casts.get(i).map(c -> c.apply(read)).orElse(read));
                }
                for (int row = 0; row < count; row++) {
                    learn(names, batch, row);
                    decide(new At(file, first[row], last[row]), new Read(rewritten, writing, names, batch, typed), row);
                }
            }
            return new Last(rewritten, writing, names, like(names));
        }
    }

    private record At(Path file, long first, long last) {}

    private void learn(List<String> names, List<Column> batch, int row) {
        if (seen.size() == names.size()) {
            return;
        }
        for (int i = 0; i < names.size(); i++) {
            if (!batch.get(i).isNull(row)) {
                seen.putIfAbsent(names.get(i), batch.get(i).text(row));
            }
        }
    }

    @SuppressWarnings("unchecked")
    private Function<Value, Optional<String>>[] like(List<String> names) {
        return names.stream()
                .map(name -> (Function<Value, Optional<String>>)
                        value -> WrittenLike.text(value, seen.getOrDefault(name, "")))
                .toArray(Function[]::new);
    }

    /**
     * Rows of a file.
     *
     * @param raw as they stand in it
     * @param typed the columns that are looked at
     */
    private record Read(
            RewrittenFile rewritten, Writing writing, List<String> names, List<Column> raw, List<Column> typed) {}

    private void decide(At at, Read read, int row) {
        RewrittenFile rewritten = read.rewritten;
        Writing writing = read.writing;
        List<String> names = read.names;
        List<Column> batch = read.raw;
        List<Column> typed = read.typed;
        List<Value> key = new ArrayList<>();
        for (int i = 0; i < changes.key().size(); i++) {
            key.add(typed.get(i).value(row));
        }
        if (ordered) {
            ordered = before.isEmpty() || KeyOrder.ASCENDING.compare(before.get(), key) <= 0;
            before = Optional.of(key);
            while (ordered && !waiting.isEmpty() && KeyOrder.ASCENDING.compare(waiting.firstKey(), key) < 0) {
                rewritten.insertBefore(
                        at.first,
                        new Last(rewritten, writing, names, like(names))
                                .record(waiting.pollFirstEntry().getValue()));
            }
        }
        Function<String, Value> valueOf = name -> {
            for (int i = 0; i < looked.size(); i++) {
                if (looked.get(i).name().equals(name)) {
                    return typed.get(i).value(row);
                }
            }
            return Value.NULL;
        };
        Fate fate = changes.of(key, valueOf, Origin.of(at.file) + ":" + at.first);
        if (fate instanceof Fate.Removed) {
            rewritten.replace(at.first, at.last, raw -> Optional.empty());
        } else if (fate instanceof Fate.Changed changed) {
            List<Optional<String>> fields = new ArrayList<>();
            Set<Integer> other = new HashSet<>();
            Function<Value, Optional<String>>[] like = like(names);
            for (int i = 0; i < names.size(); i++) {
                Value value = changed.values().get(names.get(i));
                String own = batch.get(i).isNull(row)
                        ? seen.getOrDefault(names.get(i), "")
                        : batch.get(i).text(row);
                fields.add(
                        value != null
                                ? WrittenLike.text(value, own)
                                : batch.get(i).isNull(row)
                                        ? Optional.empty()
                                        : Optional.of(batch.get(i).text(row)));
                if (value != null) {
                    other.add(i);
                }
            }
            rewritten.replace(at.first, at.last, raw -> Optional.of(writing.changed(raw, fields, other)));
        }
    }
}
