package sharptally.engines.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Sampling;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.files.text.FileForm;
import sharptally.engines.files.text.FileProblem;
import sharptally.engines.files.text.RowsOfFile;

/** Files whose rows are read from first to last, as often as they are wanted. They have no keys, order or types. */
final class FilePlace implements Place {
    /** No column of a file has this name. */
    private static final ColumnShape POSITION = new ColumnShape(
            "\u0000position",
            "position",
            Optional.of(CanonicalType.of(Kind.TEXT)),
            false,
            Generation.COMPUTED,
            Optional.empty());

    private final Address address;
    private final FileTables tables;
    private final FileForm form;
    private final Map<String, Described> known = new HashMap<>();

    /** What the first file of a table tells. */
    private record Described(TableShape shape, Map<String, String> facts) {}

    FilePlace(Address address, FileTables tables, FileForm form) {
        this.address = address.withoutTable();
        this.tables = tables;
        this.form = form;
    }

    @Override
    public Address address() {
        return address;
    }

    @Override
    public String product() {
        return tables.kind().word() + " files";
    }

    @Override
    public Map<String, String> facts() {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("TLS", "none: files on this machine");
        // How the others are written is told by their errors, if they are not alike.
        String first = tables.byName().keySet().iterator().next();
        described(first)
                .facts()
                .forEach((name, value) -> facts.put(name.equals("encoding") ? "character set" : name, value));
        return facts;
    }

    @Override
    public boolean readsOneState() {
        return true;
    }

    @Override
    public String ownSchema() {
        return "files";
    }

    @Override
    public Optional<TableName> soleTable() {
        return tables.one() ? Optional.of(tables().get(0)) : Optional.empty();
    }

    @Override
    public List<TableName> tables() {
        return tables.byName().keySet().stream().map(TableName::of).toList();
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public Estimate estimate(TableName table) {
        long bytes = 0;
        for (Path file : table(table.name()).files()) {
            try {
                bytes += Files.size(file);
            } catch (IOException e) {
                throw FileProblem.of(file, e);
            }
        }
        return new Estimate(OptionalLong.empty(), OptionalLong.of(bytes));
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        return table(table.name()).files().stream()
                .filter(file -> !Files.isReadable(file))
                .findFirst()
                .map(file -> "no right to read " + file);
    }

    private FileTable table(String name) {
        List<TableName> called = TableName.called(tables(), name, ownSchema());
        if (called.size() != 1) {
            List<String> all = List.copyOf(tables.byName().keySet());
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no such table",
                    address.withTable(name).toString(),
                    Nearest.hint(name, all, "there are: ")
                            + (address.location().contains("*") || all.size() == 1
                                    ? ""
                                    : "; many files as one table: " + address.engine() + ":" + address.location()
                                            + "/*#" + name));
        }
        return tables.byName().get(called.get(0).name());
    }

    @Override
    public TableShape describe(String table) {
        return described(table(table).name()).shape();
    }

    private Described described(String name) {
        return known.computeIfAbsent(name, n -> {
            FileTable table = tables.byName().get(n);
            try (RowsOfFile rows = tables.kind().open(table.files().get(0), form)) {
                List<ColumnShape> columns = new ArrayList<>();
                for (String column : rows.names()) {
                    columns.add(new ColumnShape(
                            column,
                            "text",
                            Optional.of(CanonicalType.written()),
                            true,
                            Generation.NONE,
                            Optional.empty()));
                }
                TableShape shape = new TableShape(TableName.of(n), false, columns, List.of(), List.of(), false);
                return new Described(shape.tellingPosition(POSITION), rows.facts());
            }
        });
    }

    @Override
    public TableShape describe(Extract extract) {
        if (extract.query().isPresent()
                || extract.where().isPresent()
                || !extract.computed().isEmpty()) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "files understand no SQL: no query, condition or expression",
                    address.withTable(extract.name()).toString(),
                    "leave it out, or choose rows on the other side as well by loading the file");
        }
        return describe(extract.name());
    }

    @Override
    public RowSource read(ReadRequest request) {
        if (!request.table().filters().isEmpty()) {
            throw new IllegalStateException(
                    "rows of files can't be chosen: " + request.table().filters());
        }
        List<ColumnShape> columns = request.columns();
        boolean positions = columns.contains(POSITION);
        List<String> names = columns.stream()
                .filter(c -> !c.equals(POSITION))
                .map(ColumnShape::name)
                .toList();
        return new FileRows(
                tables.kind(),
                form,
                table(request.table().name().name()),
                names,
                positions,
                request.skip(),
                request.limit());
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Place another() {
        return new FilePlace(address, tables, form);
    }

    @Override
    public boolean sharesState() {
        return true;
    }

    @Override
    public Optional<RangeSeek> seeking() {
        return Optional.empty();
    }

    @Override
    public Optional<Checksums> checksums() {
        return Optional.empty();
    }

    @Override
    public Optional<Joins> joins() {
        return Optional.empty();
    }

    @Override
    public Optional<Aggregates> aggregates() {
        return Optional.empty();
    }

    @Override
    public Optional<Sampling> sampling() {
        return Optional.empty();
    }

    /** Nothing is kept open between readings. */
    @Override
    public void close() {}
}
