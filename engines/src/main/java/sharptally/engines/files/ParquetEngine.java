package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import sharptally.core.place.Address;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Changes;
import sharptally.core.rows.RowSource;
import sharptally.core.script.rewrite.Rewrites;
import sharptally.core.script.rewrite.RowChanges;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlDialect;
import sharptally.core.types.Value;
import sharptally.engines.files.remote.Fetched;
import sharptally.engines.files.text.FileNames;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.Origin;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** Parquet files, which have types of their own. They are read, and joined, by a database within this program. */
public record ParquetEngine(Embedded embedded) implements Engine, Rewrites {
    private static final FileNames NAMES = new FileNames("parquet", List.of(".parquet"), false);

    @Override
    public String name() {
        return NAMES.word();
    }

    @Override
    public Place open(PlaceAccess access) {
        FileTables tables = FileTables.of(NAMES, Fetched.of(access), Piped.of(access));
        List<FileState> states = tables.byName().values().stream()
                .flatMap(table -> table.files().stream())
                .map(FileState::of)
                .toList();
        return embedded.open(
                access,
                new Relations(
                        NAMES.word(),
                        "Parquet files",
                        tables.one() ? relations(tables).keySet().stream().findFirst() : Optional.empty(),
                        relations(tables),
                        access.session().beside().flatMap(ParquetEngine::beside).orElse(Map.of()),
                        Optional.empty(),
                        () -> states.forEach(FileState::check)));
    }

    private static Optional<Map<TableName, Relation>> beside(Address other) {
        return other.engine().equals(NAMES.word())
                        && !other.location().equals(FileTables.PIPE)
                        && !Fetched.isMeant(other)
                ? Optional.of(relations(FileTables.of(NAMES, other, Optional.empty())))
                : Optional.empty();
    }

    private static Map<TableName, Relation> relations(FileTables tables) {
        Map<TableName, Relation> relations = new LinkedHashMap<>();
        tables.byName()
                .forEach((name, table) -> relations.put(TableName.of(name), new Relation.Parquet(table.files())));
        return relations;
    }

    @Override
    public SqlDialect dialect() {
        return embedded.dialect();
    }

    @Override
    public List<Path> files(PlaceAccess access, String table) {
        return FileTables.of(NAMES, Fetched.of(access), Piped.of(access))
                .called(table)
                .files();
    }

    /** Rows keep their order, and those that are inserted come last; a table of several files becomes one. */
    @Override
    public List<Path> rewrite(PlaceAccess access, RowChanges changes, Path into) {
        List<Path> old = files(access, changes.table());
        Path to = old.size() == 1 ? into : into.resolve(changes.table() + ".parquet");
        Path draft = to.resolveSibling(to.getFileName() + ".draft");
        try (Place place = open(access);
                RowCopy copy = new RowCopy(access)) {
            TableShape table =
                    place.describe(place.soleTable().map(TableName::toString).orElse(changes.table()));
            List<ColumnShape> columns = table.columns();
            columns.stream()
                    .filter(c -> c.declaredType().matches("(STRUCT|MAP|UNION).*|.*\\]"))
                    .findFirst()
                    .ifPresent(c -> {
                        throw FileProblem.of(
                                old.get(0),
                                "a file with nested values can't be rewritten: column " + c.name(),
                                "change it with the program that wrote it");
                    });
            rewrite(place, table, changes, copy, Origin.of(old.get(0)));
            embedded.write(
                    access,
                    copy.relation(columns.stream().map(ColumnShape::name).toList()),
                    columns.stream()
                            .map(c -> new Embedded.Kept(c.name(), c.declaredType()))
                            .toList(),
                    draft);
            return List.of(Files.move(draft, to, StandardCopyOption.ATOMIC_MOVE));
        } catch (IOException e) {
            throw FileProblem.of(to, e);
        } finally {
            draft.toFile().delete();
        }
    }

    private static void rewrite(Place place, TableShape table, RowChanges changes, RowCopy copy, String where) {
        List<String> names = table.columns().stream().map(ColumnShape::name).toList();
        int[] key =
                changes.key().stream().mapToInt(c -> names.indexOf(c.name())).toArray();
        long number = 0;
        try (RowSource rows = place.read(new ReadRequest(table, table.columns(), List.of()))) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                for (int i = 0; i < batch.get().rows(); i++) {
                    List<Value> row = new ArrayList<>(batch.get().row(i));
                    RowChanges.Fate fate = changes.of(
                            IntStream.of(key).mapToObj(row::get).toList(),
                            name -> row.get(names.indexOf(name)),
                            where + ":" + ++number);
                    if (fate instanceof RowChanges.Fate.Changed changed) {
                        changed.values().forEach((name, value) -> row.set(names.indexOf(name), value));
                    }
                    if (!(fate instanceof RowChanges.Fate.Removed)) {
                        copy.add(row);
                    }
                }
            }
        }
        changes.finish(where);
        for (Map<String, Value> row : changes.inserts()) {
            copy.add(names.stream().map(n -> row.getOrDefault(n, Value.NULL)).toList());
        }
    }

    @Override
    public Optional<String> publish(PlaceAccess access, Path file) {
        return Fetched.put(access, file);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
