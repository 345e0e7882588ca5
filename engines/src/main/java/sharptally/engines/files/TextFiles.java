package sharptally.engines.files;

import java.io.IOException;
import java.io.InputStream;
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
import java.util.stream.IntStream;
import sharptally.core.place.Estimate;
import sharptally.core.place.part.Records;
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
import sharptally.engines.files.text.Unpacked;

/** Files of one kind, each of them a table or a part of one. They have no keys and no types. */
record TextFiles(FileKind kind, FileTables known, FileForm form, Map<String, Set<String>> broken) implements RowFiles {
    private static final int LOOKED_AT_BYTES = 1 << 18;

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

    /** By the lines of the begin, where these are rows; packed files and workbooks do not tell. */
    @Override
    public Estimate estimate(TableName table) {
        long bytes = 0;
        double rows = 0;
        boolean told = kind != FileKind.XLSX;
        for (Path file : files(table)) {
            try (InputStream in = Files.newInputStream(file)) {
                long size = Files.size(file);
                byte[] begin = in.readNBytes(LOOKED_AT_BYTES);
                long lines = IntStream.range(0, begin.length)
                        .filter(i -> begin[i] == '\n')
                        .count();
                bytes += size;
                rows += begin.length == 0 ? 0 : (double) lines * size / begin.length;
                told = told
                        && (lines > 0 || size == 0)
                        && Unpacked.ending(file.getFileName().toString()).isEmpty();
            } catch (IOException e) {
                throw FileProblem.of(file, e);
            }
        }
        return new Estimate(told ? OptionalLong.of(Math.round(rows)) : OptionalLong.empty(), OptionalLong.of(bytes));
    }

    @Override
    public Optional<Records> records() {
        return Optional.of(new FileRecords(kind, form, known));
    }

    @Override
    public RowSource read(TableName table, List<String> columns, boolean positions, long skip, OptionalLong limit) {
        FileRows.Noting noting = line -> broken.computeIfAbsent(table.name(), t -> new ConcurrentSkipListSet<>())
                .add(line);
        return new FileRows(kind, form, of(table), new FileRows.Wanted(columns, positions, skip, limit), noting);
    }
}
