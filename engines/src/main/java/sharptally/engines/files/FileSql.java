package sharptally.engines.files;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** SQL over files: their rows are copied into a database within this program, once they are asked for in that way. */
final class FileSql implements AutoCloseable {
    private final PlaceAccess access;
    private final RowFiles files;
    private final Embedded embedded;
    private final Map<List<TableName>, Place> opened = new HashMap<>();
    private final Map<TableName, List<FileState>> states = new HashMap<>();

    FileSql(PlaceAccess access, RowFiles files, Embedded embedded) {
        this.access = access;
        this.files = files;
        this.embedded = embedded;
    }

    /** A place with those of the tables that a query may mean. */
    Place of(String query) {
        String lower = query.toLowerCase(Locale.ROOT);
        return of(files.tables().stream()
                .filter(t -> lower.contains(t.name().toLowerCase(Locale.ROOT)))
                .toList());
    }

    Place of(List<TableName> tables) {
        return opened.computeIfAbsent(tables, this::open);
    }

    /** Which rows of a table meet all of some conditions. */
    BitSet rows(TableName table, List<RowFilter.Condition> conditions) {
        Place place = of(List.of(table));
        StringBuilder query = new StringBuilder("SELECT " + quoted(Relation.COUNTED) + " FROM "
                + quoted(Relation.COUNTED + " " + table.name()) + " WHERE true");
        conditions.forEach(c -> query.append(" AND (").append(c.text()).append("\n)"));
        TableShape chosen =
                place.describe(new Extract(table.name(), Optional.of(query.toString()), Optional.empty(), Map.of()));
        BitSet set = new BitSet();
        try (RowSource found = place.read(new ReadRequest(chosen, chosen.columns(), List.of()))) {
            for (var batch = found.next(); batch.isPresent(); batch = found.next()) {
                for (int i = 0; i < batch.get().rows(); i++) {
                    set.set(Math.toIntExact(((Value.Int) batch.get().column(0).value(i)).value()));
                }
            }
        }
        return set;
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    private Place open(List<TableName> tables) {
        Map<TableName, Relation> relations = new LinkedHashMap<>();
        List<RowCopy> copies = new ArrayList<>();
        try {
            for (TableName table : tables) {
                RowCopy copy = new RowCopy(access);
                copies.add(copy);
                relations.put(TableName.of(table.name()), copied(table, copy));
            }
            return embedded.open(
                    access,
                    new Relations(
                            access.label().engine(),
                            files.product(),
                            Optional.empty(),
                            relations,
                            Map.of(),
                            Optional.empty(),
                            () -> {}));
        } finally {
            copies.forEach(RowCopy::close);
        }
    }

    /**
     * @throws sharptally.core.fault.ToolException when a table's files are not as they were when they were copied
     */
    void check(TableName table) {
        states.getOrDefault(table, List.of()).forEach(FileState::check);
    }

    private Relation copied(TableName table, RowCopy copy) {
        states.putIfAbsent(table, files.files(table).stream().map(FileState::of).toList());
        List<String> columns =
                files.describe(table).columns().stream().map(ColumnShape::name).toList();
        try (RowSource rows = files.read(table, columns, false, 0, OptionalLong.empty())) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                copy.add(batch.get());
            }
        }
        return copy.relation(columns);
    }

    @Override
    public void close() {
        opened.values().forEach(Place::close);
        opened.clear();
    }
}
