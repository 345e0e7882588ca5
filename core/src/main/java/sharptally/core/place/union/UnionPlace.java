package sharptally.core.place.union;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Function;
import java.util.function.ToLongFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.fault.Closing;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
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
import sharptally.core.rows.LimitedRows;
import sharptally.core.rows.MergedRows;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** Places whose tables together are one: rows are merged in key order, checksums of ranges are added. */
final class UnionPlace implements Place {
    private final Address address;
    private final UnionAddress union;
    private final List<Place> parts;
    private final UnionTables tables;

    UnionPlace(Address label, UnionAddress union, List<Place> parts) {
        this(label.withoutTable(), union, parts, new UnionTables(label.withoutTable(), union));
    }

    private UnionPlace(Address address, UnionAddress union, List<Place> parts, UnionTables tables) {
        this.address = address;
        this.union = union;
        this.parts = List.copyOf(parts);
        this.tables = tables;
    }

    @Override
    public Address address() {
        return address;
    }

    @Override
    public String product() {
        return parts.size() + " databases: "
                + parts.stream().map(Place::product).distinct().collect(Collectors.joining(", "));
    }

    @Override
    public Map<String, String> facts() {
        Map<String, String> facts = new LinkedHashMap<>();
        for (int i = 0; i < parts.size(); i++) {
            facts.put(
                    "part " + union.shards().get(i).name(),
                    parts.get(i).address() + ", " + parts.get(i).product());
        }
        return facts;
    }

    /** Each of them may be read in one, but not all in the same. */
    @Override
    public boolean readsOneState() {
        return false;
    }

    @Override
    public String ownSchema() {
        return parts.get(0).ownSchema();
    }

    @Override
    public Optional<TableName> soleTable() {
        return Optional.empty();
    }

    /** Tables that any of them has, each by the name that the first that has it gives it. */
    @Override
    public List<TableName> tables() {
        Map<String, TableName> all = new LinkedHashMap<>();
        for (Place part : parts) {
            for (TableName table : part.tables()) {
                boolean own = table.schema()
                        .filter(schema -> !schema.equals(part.ownSchema()))
                        .isEmpty();
                String key = (own ? table.name() : table.toString()).toLowerCase(java.util.Locale.ROOT);
                all.putIfAbsent(key, own && part != parts.get(0) ? TableName.of(table.name()) : table);
            }
        }
        return List.copyOf(all.values());
    }

    private String nameIn(int place, TableName table) {
        return UnionTables.nameIn(parts, place, table.toString());
    }

    /** What is said of one of them is said of the whole. */
    private Optional<String> any(Function<Integer, Optional<String>> question) {
        return IntStream.range(0, parts.size())
                .mapToObj(
                        i -> question.apply(i).map(what -> union.shards().get(i).name() + ": " + what))
                .flatMap(Optional::stream)
                .findFirst();
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return any(i -> parts.get(i).hides(table.map(t -> TableName.of(nameIn(i, t)))));
    }

    @Override
    public Estimate estimate(TableName table) {
        List<Estimate> all = IntStream.range(0, parts.size())
                .mapToObj(i -> parts.get(i).estimate(own(i, table)))
                .toList();
        return new Estimate(sum(all, Estimate::rows), sum(all, Estimate::bytes));
    }

    private static OptionalLong sum(List<Estimate> all, Function<Estimate, OptionalLong> figure) {
        return all.stream().map(figure).allMatch(OptionalLong::isPresent)
                ? OptionalLong.of(all.stream()
                        .mapToLong((ToLongFunction<Estimate>)
                                one -> figure.apply(one).getAsLong())
                        .sum())
                : OptionalLong.empty();
    }

    private TableName own(int place, TableName table) {
        Place part = parts.get(place);
        return TableName.called(part.tables(), nameIn(place, table), part.ownSchema()).stream()
                .findFirst()
                .orElse(table);
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        return any(i -> parts.get(i).readProblem(own(i, table)));
    }

    @Override
    public TableShape describe(String table) {
        return describe(Extract.ofTable(table));
    }

    @Override
    public TableShape describe(Extract extract) {
        if (extract.query().isEmpty()) {
            missing(extract.name()).ifPresent(shard -> {
                throw new ToolException(
                        ErrorKind.USAGE,
                        "a table of a union is not in " + shard,
                        address.withTable(extract.name()).toString(),
                        "leave the table out, or compare it with those that have it");
            });
        }
        return tables.describe(parts, extract);
    }

    private Optional<String> missing(String table) {
        boolean anywhere = !TableName.called(tables(), table, ownSchema()).isEmpty();
        return IntStream.range(0, parts.size())
                .filter(i -> anywhere
                        && TableName.called(
                                        parts.get(i).tables(),
                                        UnionTables.nameIn(parts, i, table),
                                        parts.get(i).ownSchema())
                                .isEmpty())
                .mapToObj(i -> union.shards().get(i).name())
                .findFirst();
    }

    @Override
    public RowSource read(ReadRequest request) {
        List<RowSource> rows = new ArrayList<>();
        try {
            for (int i = 0; i < parts.size(); i++) {
                rows.add(parts.get(i).read(in(i, request)));
            }
        } catch (RuntimeException e) {
            rows.forEach(RowSource::close);
            throw e;
        }
        int[] order = request.orderBy().stream()
                .mapToInt(column -> request.columns().indexOf(column))
                .toArray();
        RowSource merged = new MergedRows(rows, order);
        return request.limit().isPresent() || request.skip() > 0
                ? new LimitedRows(merged, request.skip(), request.limit())
                : merged;
    }

    TableShape in(int place, TableShape table) {
        return tables.in(place, table);
    }

    /** What one of them is asked for: all that may be among the rows that are wanted. */
    ReadRequest in(int place, ReadRequest request) {
        TableShape table = tables.in(place, request.table());
        OptionalLong limit = request.limit().isPresent()
                ? OptionalLong.of(Math.addExact(request.limit().getAsLong(), request.skip()))
                : OptionalLong.empty();
        return new ReadRequest(
                table,
                UnionTables.in(table, request.columns()),
                UnionTables.in(table, request.orderBy()),
                request.ranges(),
                request.after(),
                0,
                limit,
                false);
    }

    @Override
    public List<String> passedOver(TableName table) {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            String shard = union.shards().get(i).name();
            parts.get(i).passedOver(own(i, table)).forEach(record -> all.add(shard + " " + record));
        }
        return all;
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Place another() {
        List<Place> others = new ArrayList<>();
        try {
            parts.forEach(part -> others.add(part.another()));
        } catch (RuntimeException e) {
            others.forEach(Place::close);
            throw e;
        }
        return new UnionPlace(address, union, others, tables);
    }

    @Override
    public boolean sharesState() {
        return parts.stream().allMatch(Place::sharesState);
    }

    @Override
    public boolean isOverdue() {
        return parts.stream().anyMatch(Place::isOverdue);
    }

    @Override
    public void rest() {
        parts.forEach(Place::rest);
    }

    private boolean all(Function<Place, Optional<?>> part) {
        return parts.stream().allMatch(place -> part.apply(place).isPresent());
    }

    @Override
    public Optional<RangeSeek> seeking() {
        return all(Place::seeking) ? Optional.of(new UnionSeek(this, parts, tables)) : Optional.empty();
    }

    @Override
    public Optional<Checksums> checksums() {
        return all(Place::checksums) ? Optional.of(new UnionChecksums(parts, tables)) : Optional.empty();
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
        return all(Place::sampling)
                ? Optional.of(sample -> parts.stream()
                        .allMatch(place -> place.sampling().orElseThrow().chooses(sample)))
                : Optional.empty();
    }

    @Override
    public void close() {
        Closing.all(parts, Place::close);
    }
}
