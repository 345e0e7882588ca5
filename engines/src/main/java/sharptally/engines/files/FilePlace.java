package sharptally.engines.files;

import java.nio.file.Files;
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

/** Files whose rows are read from first to last, as often as they are wanted. They have no keys, order or types. */
public final class FilePlace implements Place {
    /** No column of a file has this name. */
    private static final ColumnShape POSITION = new ColumnShape(
            "\u0000position",
            "position",
            Optional.of(CanonicalType.of(Kind.TEXT)),
            false,
            Generation.COMPUTED,
            Optional.empty());

    private final Address address;
    private final RowFiles files;
    private final Map<TableName, TableShape> known = new HashMap<>();

    public FilePlace(Address address, RowFiles files) {
        this.address = address.withoutTable();
        this.files = files;
    }

    @Override
    public Address address() {
        return address;
    }

    @Override
    public String product() {
        return files.product();
    }

    @Override
    public Map<String, String> facts() {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("TLS", "none: files on this machine");
        facts.putAll(files.facts());
        return facts;
    }

    @Override
    public boolean readsOneState() {
        return true;
    }

    @Override
    public String ownSchema() {
        return files.ownSchema();
    }

    @Override
    public Optional<TableName> soleTable() {
        return files.soleTable();
    }

    @Override
    public List<TableName> tables() {
        return files.tables();
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public Estimate estimate(TableName table) {
        return new Estimate(OptionalLong.empty(), files.bytes(table));
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        return files.files(table).stream()
                .filter(file -> !Files.isReadable(file))
                .findFirst()
                .map(file -> "no right to read " + file);
    }

    private TableName named(String name) {
        List<TableName> called = TableName.called(tables(), name, ownSchema());
        if (called.size() != 1) {
            List<String> all = tables().stream().map(TableName::toString).toList();
            throw new ToolException(
                    ErrorKind.USAGE,
                    called.isEmpty() ? "no such table" : "more than one table is called so",
                    address.withTable(name).toString(),
                    Nearest.hint(name, all, "there are: "));
        }
        return called.get(0);
    }

    @Override
    public TableShape describe(String table) {
        return known.computeIfAbsent(named(table), t -> files.describe(t).tellingPosition(POSITION));
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
        return files.read(request.table().name(), names, positions, request.skip(), request.limit());
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Place another() {
        return new FilePlace(address, files);
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
