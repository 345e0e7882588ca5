package sharptally.engines.files.dump;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.files.FileState;
import sharptally.engines.files.text.FileProblem;

/**
 * What is in a dump: its tables, and between which places of the file their rows lie. It is gone through once for that, to its
 * end, so that one that was cut off is not taken for a whole one. Immutable.
 *
 * @param state as it was when it was gone through
 * @param rows where the first statement with rows of a table begins, and where the last one does; none for empty tables
 */
record Dump(Path file, Flavour flavour, FileState state, Map<TableName, TableShape> tables, Map<TableName, Span> rows) {
    /** From the first statement with rows of a table to the begin of the last one. */
    record Span(DumpBytes.Place first, DumpBytes.Place last) {}

    /**
     * @throws sharptally.core.fault.ToolException when it is no plain dump, or was cut off
     */
    static Dump of(Path file) {
        FileState state = FileState.of(file);
        try (DumpBytes in = new DumpBytes(file, DumpBytes.Place.BEGIN)) {
            Flavour flavour = flavour(file, in.begin());
            Statements statements = new Statements(in, flavour);
            TableWords words = new TableWords(flavour);
            Map<TableName, TableShape> tables = new LinkedHashMap<>();
            Map<TableName, List<KeyShape>> added = new HashMap<>();
            Map<TableName, Span> rows = new HashMap<>();
            while (statements.hasNext()) {
                DumpBytes.Place place = in.place();
                Statements.Statement statement = statements.next();
                if (statement instanceof Statements.Statement.Words said) {
                    words.made(said.text()).ifPresent(t -> tables.put(t.name(), t));
                    words.added(said.text())
                            .ifPresent(a -> added.computeIfAbsent(a.table(), t -> new ArrayList<>())
                                    .add(a.key()));
                } else {
                    Statements.Statement.Rows of = (Statements.Statement.Rows) statement;
                    rows.merge(of.table(), new Span(place, place), (known, now) -> new Span(known.first(), now.last()));
                    statements.skip(of);
                }
            }
            if (!statements.ended()) {
                throw in.cut();
            }
            rows.keySet().stream()
                    .filter(t -> !tables.containsKey(t))
                    .findFirst()
                    .ifPresent(t -> {
                        throw FileProblem.of(
                                file,
                                "rows of " + t + ", and no CREATE TABLE for it",
                                "dump the table with its definition");
                    });
            tables.replaceAll((name, table) -> withKeys(table, added.getOrDefault(name, List.of())));
            state.check();
            return new Dump(file, flavour, state, tables, rows);
        }
    }

    private static TableShape withKeys(TableShape table, List<KeyShape> further) {
        List<KeyShape> keys = new ArrayList<>(further);
        keys.addAll(table.keys());
        keys.sort(Comparator.comparing(key -> !key.primary()));
        // Of computed columns a dump has no values.
        List<ColumnShape> columns = table.columns().stream()
                .filter(c -> c.generation() != Generation.COMPUTED)
                .toList();
        return new TableShape(table.name(), false, columns, keys, List.of(), false);
    }

    private static Flavour flavour(Path file, String begin) {
        if (begin.startsWith("PGDMP")) {
            throw FileProblem.of(
                    file,
                    "a dump in PostgreSQL's custom form",
                    "write it out as text: pg_restore -f backup.sql " + file.getFileName());
        }
        for (Flavour flavour : Flavour.values()) {
            if (begin.contains(flavour.begin)) {
                return flavour;
            }
        }
        throw FileProblem.of(
                file,
                "not a dump of pg_dump, mariadb-dump, mysqldump or sqlite3",
                "its first lines should say which program wrote it");
    }
}
