package sharptally.engines.files;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Supplier;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.text.Nearest;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Records;
import sharptally.core.place.part.Sampling;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.totals.TotalsByReading;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.embed.Embedded;

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

    private final PlaceAccess access;
    private final Address address;
    private final RowFiles files;
    private final Embedded embedded;
    private final FileSql sql;
    private final Map<TableName, TableShape> known = new HashMap<>();

    /**
     * @param embedded what answers SQL over the files
     */
    public FilePlace(PlaceAccess access, RowFiles files, Embedded embedded) {
        this.access = access;
        // A file is the table that the user calls it.
        this.address =
                files.soleTable().isPresent() ? access.label() : access.label().withoutTable();
        this.files = files;
        this.embedded = embedded;
        this.sql = new FileSql(access, files, embedded);
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
        return files.estimate(table);
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
        if (extract.query().isPresent()) {
            return sql.of(extract.query().get()).describe(extract);
        }
        TableShape table = describe(extract.name());
        if (!extract.computed().isEmpty()) {
            return sql.of(List.of(table.name())).describe(named(extract, table));
        }
        if (extract.where().isPresent()) {
            // Whether it is understood.
            sql.of(List.of(table.name())).describe(named(extract, table));
            return table.and(new RowFilter.Condition(extract.where().get()));
        }
        return table;
    }

    /** Within the database that answers it, a table goes by its bare name. */
    private static Extract named(Extract extract, TableShape table) {
        return new Extract(table.name().name(), extract.query(), extract.where(), extract.computed());
    }

    /** Rows of a query or of computed columns are those of the database that answers it. */
    @Override
    public RowSource read(ReadRequest request) {
        TableShape table = request.table();
        List<RowFilter> tested = table.filters().stream()
                .filter(f -> !(f instanceof RowFilter.Condition))
                .toList();
        List<RowFilter.Condition> conditions = table.filters().stream()
                .filter(RowFilter.Condition.class::isInstance)
                .map(RowFilter.Condition.class::cast)
                .toList();
        List<ColumnShape> columns = Stream.concat(
                        request.columns().stream(),
                        tested.stream()
                                .map(FilteredRows::column)
                                .filter(c -> !request.columns().contains(c)))
                .distinct()
                .toList();
        if (table.query().isPresent()
                || columns.stream().anyMatch(c -> c.expression().isPresent())) {
            return asked(request, columns, tested, conditions);
        }
        boolean positions = columns.contains(POSITION);
        // The position comes last.
        List<ColumnShape> read = Stream.concat(
                        columns.stream().filter(c -> !c.equals(POSITION)),
                        positions ? Stream.of(POSITION) : Stream.empty())
                .toList();
        List<String> names = read.stream()
                .filter(c -> !c.equals(POSITION))
                .map(ColumnShape::name)
                .toList();
        if (table.filters().isEmpty()) {
            RowSource rows = files.read(table.name(), names, positions, request.skip(), request.limit());
            return TypedRecords.typed(rows, read);
        }
        Optional<FilteredRows.Chosen> chosen = conditions.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        new FilteredRows.Chosen(sql.rows(table.name(), conditions), () -> sql.check(table.name())));
        return new FilteredRows(
                files.read(table.name(), names, positions, 0, OptionalLong.empty()),
                read,
                tested,
                chosen,
                request.columns(),
                new FilteredRows.Limit(request.skip(), request.limit()));
    }

    /** What the database that answers it hands out as text is made here what the other side makes of it. */
    private RowSource asked(
            ReadRequest request,
            List<ColumnShape> columns,
            List<RowFilter> tested,
            List<RowFilter.Condition> conditions) {
        TableShape table = request.table();
        Place place = table.query().map(sql::of).orElseGet(() -> sql.of(List.of(table.name())));
        TableShape plain = new TableShape(
                TableName.of(table.name().name()),
                table.view(),
                columns,
                List.of(),
                List.of(),
                table.sideEffects(),
                table.query(),
                List.copyOf(conditions),
                Optional.empty());
        List<ColumnShape> described =
                columns.stream().map(ColumnShape::asDescribed).toList();
        return new FilteredRows(
                place.read(new ReadRequest(plain, described, List.of())),
                columns,
                tested,
                Optional.empty(),
                request.columns(),
                new FilteredRows.Limit(request.skip(), request.limit()));
    }

    @Override
    public List<String> passedOver(TableName table) {
        // A query may be about each of them.
        return files.tables().contains(table)
                ? files.passedOver(table)
                : files.tables().stream()
                        .flatMap(t -> files.passedOver(t).stream())
                        .toList();
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Place another() {
        return new FilePlace(access, files, embedded);
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
    public Optional<Records> records() {
        return files.records().map(TypedRecords::new);
    }

    @Override
    public Optional<Joins> joins() {
        return Optional.empty();
    }

    @Override
    public Optional<Aggregates> aggregates() {
        return Optional.of(new TotalsByReading(
                request -> new Unbroken(
                        read(request), () -> passedOver(request.table().name())),
                access.session().temporary().orElse(Path.of(System.getProperty("java.io.tmpdir")))));
    }

    /** Rows of which none may have been passed over: what is added up of them says nothing else. */
    private record Unbroken(RowSource rows, Supplier<List<String>> passedOver) implements RowSource {
        @Override
        public Optional<RowBatch> next() {
            Optional<RowBatch> batch = rows.next();
            List<String> broken = batch.isEmpty() ? passedOver.get() : List.of();
            if (!broken.isEmpty()) {
                throw new ToolException(
                        ErrorKind.INCOMPLETE,
                        "figures would leave out broken records",
                        broken.get(0),
                        "mend them, or compare the rows");
            }
            return batch;
        }

        @Override
        public void close() {
            rows.close();
        }
    }

    @Override
    public Optional<Sampling> sampling() {
        return Optional.empty();
    }

    @Override
    public void close() {
        sql.close();
    }
}
