package sharptally.engines.files.dump;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.ForeignKey;
import sharptally.core.shape.Generation;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;

/**
 * The tables that the statements of a dump make.
 *
 * @param shapes all of them
 * @param columns names of the columns of each, as they stand in rows that do not name them
 * @param parts of partitioned tables
 * @param partitions tables that are nothing but a part of another one
 */
record DumpTables(
        Map<TableName, TableShape> shapes,
        Map<TableName, List<String>> columns,
        Map<TableName, Set<TableName>> parts,
        Set<TableName> partitions) {
    /** Stands among the statements where points in time are written in a time zone that is not told. */
    static final String LOCAL_TIMES = "-- times are local";

    static DumpTables of(List<String> statements, Flavour flavour) {
        TableWords words = new TableWords(flavour);
        boolean local = statements.contains(LOCAL_TIMES);
        Map<TableName, List<ColumnShape>> made = new LinkedHashMap<>();
        Map<TableName, Set<TableName>> parts = new HashMap<>();
        Map<TableName, List<KeyShape>> keys = new HashMap<>();
        Map<TableName, List<ForeignKey>> references = new HashMap<>();
        Set<TableName> partitions = new LinkedHashSet<>();
        for (String statement : statements) {
            for (TableWords.Said said : words.said(statement)) {
                if (said instanceof TableWords.Said.Made table) {
                    made.put(
                            table.table(),
                            table.columns().stream()
                                    .map(c -> local ? inNoZone(c) : c)
                                    .toList());
                } else if (said instanceof TableWords.Said.Keyed keyed) {
                    keys.computeIfAbsent(keyed.table(), t -> new ArrayList<>()).add(keyed.key());
                } else if (said instanceof TableWords.Said.Refers refers) {
                    references
                            .computeIfAbsent(refers.table(), t -> new ArrayList<>())
                            .add(refers.key());
                } else if (said instanceof TableWords.Said.PartOf part) {
                    List<ColumnShape> columns = new ArrayList<>(made.getOrDefault(part.whole(), List.of()));
                    List<ColumnShape> own = made.getOrDefault(part.table(), List.of());
                    columns.removeIf(c -> own.stream().anyMatch(o -> o.name().equals(c.name())));
                    columns.addAll(own);
                    made.put(part.table(), columns);
                    if (part.partition()) {
                        partitions.add(part.table());
                        parts.computeIfAbsent(part.whole(), t -> new LinkedHashSet<>())
                                .add(part.table());
                    }
                }
            }
        }
        Map<TableName, TableShape> shapes = new LinkedHashMap<>();
        made.forEach((table, columns) -> shapes.put(
                table,
                shape(
                        table,
                        columns,
                        flavour,
                        keys.getOrDefault(table, List.of()),
                        references.getOrDefault(table, List.of()).stream()
                                .map(r -> whole(r, keys.getOrDefault(r.parent(), List.of())))
                                .toList())));
        Map<TableName, List<String>> columns = new HashMap<>();
        made.forEach((table, all) ->
                // Of SQLite, computed columns are left out of rows without names; others write DEFAULT.
                columns.put(
                        table,
                        all.stream()
                                .filter(c -> flavour != Flavour.SQLITE || c.generation() != Generation.COMPUTED)
                                .map(ColumnShape::name)
                                .toList()));
        return new DumpTables(shapes, columns, parts, partitions);
    }

    private static TableShape shape(
            TableName name,
            List<ColumnShape> columns,
            Flavour flavour,
            List<KeyShape> keys,
            List<ForeignKey> references) {
        // Those of SQLite may.
        List<String> primary = keys.stream()
                .filter(k -> k.primary() && flavour != Flavour.SQLITE)
                .flatMap(k -> k.columns().stream())
                .toList();
        return new TableShape(
                name,
                false,
                // Of computed columns a dump has no values.
                columns.stream()
                        .filter(c -> c.generation() != Generation.COMPUTED)
                        .map(c -> primary.contains(c.name()) && c.nullable() ? neverNull(c) : c)
                        .toList(),
                keys.stream()
                        .distinct()
                        .sorted(Comparator.comparing(key -> !key.primary()))
                        .toList(),
                references,
                false);
    }

    private static ColumnShape inNoZone(ColumnShape column) {
        return new ColumnShape(
                column.name(),
                column.declaredType(),
                column.type().map(t -> t.kind() == Kind.INSTANT ? t.writtenAs(Kind.TIMESTAMP, t.digits()) : t),
                column.nullable(),
                column.generation(),
                column.collation());
    }

    private static ColumnShape neverNull(ColumnShape column) {
        return new ColumnShape(
                column.name(), column.declaredType(), column.type(), false, column.generation(), column.collation());
    }

    private static ForeignKey whole(ForeignKey reference, List<KeyShape> keysOfParent) {
        return reference.parentColumns().isEmpty()
                ? keysOfParent.stream()
                        .filter(KeyShape::primary)
                        .findFirst()
                        .map(k -> new ForeignKey(reference.columns(), reference.parent(), k.columns()))
                        .orElse(reference)
                : reference;
    }

    /** Those that are tables to a user of the database. */
    List<TableName> listed() {
        return shapes.keySet().stream().filter(t -> !partitions.contains(t)).toList();
    }

    /** The table itself, and all those whose rows are its rows as well. */
    Set<TableName> members(TableName table) {
        List<TableName> members = new ArrayList<>(List.of(table));
        for (int i = 0; i < members.size(); i++) {
            parts.getOrDefault(members.get(i), Set.of()).stream()
                    .filter(t -> !members.contains(t))
                    .forEach(members::add);
        }
        return new LinkedHashSet<>(members);
    }
}
