package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListSet;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileKind;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.RowsOfFile;

/** Files of one kind, each of them a table or a part of one. They have no keys and no types. */
record TextFiles(FileKind kind, FileTables known, FileForm form, Map<String, Set<String>> broken) implements RowFiles {
    /** Of files that were not read yet. */
    TextFiles(FileKind kind, FileTables known, FileForm form) {
        this(kind, known, form, new ConcurrentHashMap<>());
    }

    @Override
    public String product() {
        return kind.word() + " files";
    }

    /** Of the first one; how the others are written is told by their errors, if they are not alike. */
    @Override
    public Map<String, String> facts() {
        try (RowsOfFile rows = open(tables().get(0))) {
            Map<String, String> facts = new LinkedHashMap<>();
            rows.facts().forEach((name, value) -> facts.put(name.equals("encoding") ? "character set" : name, value));
            return facts;
        }
    }

    @Override
    public String ownSchema() {
        return "files";
    }

    @Override
    public List<TableName> tables() {
        return known.byName().keySet().stream().map(TableName::of).toList();
    }

    @Override
    public Optional<TableName> soleTable() {
        return known.one() ? Optional.of(tables().get(0)) : Optional.empty();
    }

    private FileTable of(TableName table) {
        return Optional.ofNullable(known.byName().get(table.name())).orElseThrow();
    }

    private RowsOfFile open(TableName table) {
        return kind.open(of(table).files().get(0), form);
    }

    @Override
    public TableShape describe(TableName table) {
        try (RowsOfFile rows = open(table)) {
            List<ColumnShape> columns = new ArrayList<>();
            for (String column : rows.names()) {
                columns.add(new ColumnShape(
                        column, "text", Optional.of(CanonicalType.written()), true, Generation.NONE, Optional.empty()));
            }
            return new TableShape(table, false, columns, List.of(), List.of(), false);
        }
    }

    @Override
    public List<String> passedOver(TableName table) {
        return List.copyOf(broken.getOrDefault(table.name(), Set.of()));
    }

    @Override
    public List<Path> files(TableName table) {
        return of(table).files();
    }

    @Override
    public OptionalLong bytes(TableName table) {
        long bytes = 0;
        for (Path file : files(table)) {
            try {
                bytes += Files.size(file);
            } catch (IOException e) {
                throw FileProblem.of(file, e);
            }
        }
        return OptionalLong.of(bytes);
    }

    @Override
    public RowSource read(TableName table, List<String> columns, boolean positions, long skip, OptionalLong limit) {
        FileRows.Noting noting = line -> broken.computeIfAbsent(table.name(), t -> new ConcurrentSkipListSet<>())
                .add(line);
        return new FileRows(kind, form, of(table), new FileRows.Wanted(columns, positions, skip, limit), noting);
    }
}
