package sharptally.spark.lake;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Supplier;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.functions;
import org.apache.spark.sql.types.StructField;
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
import sharptally.core.rows.RowPack;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.RowFilter;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;

/** Tables of a lake, as the driver sees them: what they are like, and the distributed rows. */
public final class LakePlace implements Place {
    private final SparkSession session;
    private final Address label;
    private final LakeTables tables;
    /** A table is what it was when it was first looked at, however often it is read. */
    private final Map<String, Dataset<Row>> known = new HashMap<>();

    LakePlace(SparkSession session, Address label, LakeTables tables) {
        this.session = session;
        this.label = label;
        this.tables = tables;
    }

    @Override
    public Address address() {
        return label;
    }

    @Override
    public String product() {
        return "Apache Spark " + session.version();
    }

    @Override
    public Map<String, String> facts() {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("cluster", session.sparkContext().master());
        facts.put("user", session.sparkContext().sparkUser());
        facts.put("cores", String.valueOf(session.sparkContext().defaultParallelism()));
        return facts;
    }

    /** Files are listed, and versions chosen, when a table is first looked at. */
    @Override
    public boolean readsOneState() {
        return true;
    }

    @Override
    public String ownSchema() {
        return tables.schema();
    }

    @Override
    public Optional<TableName> soleTable() {
        return tables.sole();
    }

    @Override
    public List<TableName> tables() {
        return tables.tables();
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public Estimate estimate(TableName table) {
        try {
            var size = rows(table)
                    .queryExecution()
                    .optimizedPlan()
                    .stats()
                    .sizeInBytes()
                    .bigInteger();
            return size.bitLength() < Long.SIZE - 1
                    ? new Estimate(OptionalLong.empty(), OptionalLong.of(size.longValue()))
                    : Estimate.UNKNOWN;
        } catch (RuntimeException e) {
            return Estimate.UNKNOWN;
        }
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        try {
            rows(table);
            return Optional.empty();
        } catch (ToolException e) {
            return Optional.of(e.what());
        }
    }

    private Dataset<Row> rows(TableName table) {
        return told(table.toString(), () -> known.computeIfAbsent(table.toString(), name -> tables.rows(table)));
    }

    private <T> T told(String what, Supplier<T> work) {
        try {
            return work.get();
        } catch (ToolException e) {
            throw e;
        } catch (Exception e) { // The compiler does not know of what Scala throws.
            throw Trouble.of(e, label + " (" + what + ")");
        }
    }

    @Override
    public TableShape describe(String table) {
        TableName name = tables.tables().stream()
                .filter(t -> t.toString().equals(table))
                .findFirst()
                .or(() -> tables.tables().stream()
                        .filter(t -> t.toString().equalsIgnoreCase(table))
                        .findFirst())
                .orElseThrow(() -> new ToolException(
                        ErrorKind.READ,
                        "no such table: " + table,
                        label.toString(),
                        "there are: "
                                + String.join(
                                        ", ",
                                        tables.tables().stream()
                                                .map(TableName::toString)
                                                .toList())));
        return new TableShape(name, false, columns(rows(name), tables.isWritten()), List.of(), List.of(), false);
    }

    private static List<ColumnShape> columns(Dataset<Row> rows, boolean written) {
        List<ColumnShape> columns = new ArrayList<>();
        for (StructField field : rows.schema().fields()) {
            columns.add(LakeTypes.column(field, written));
        }
        return columns;
    }

    @Override
    public TableShape describe(Extract extract) {
        TableShape shape = extract.query().isPresent()
                ? TableShape.ofQuery(
                        TableName.of(extract.name()),
                        extract.query().get(),
                        told("query", () -> columns(session.sql(extract.query().get()), false)))
                : describe(extract.name());
        for (Map.Entry<String, String> computed : extract.computed().entrySet()) {
            TableShape before = shape;
            Dataset<Row> one = told(
                    "column " + computed.getKey(),
                    () -> all(before).select(functions.expr(computed.getValue()).as(computed.getKey())));
            shape = shape.with(
                    LakeTypes.column(one.schema().apply(0), false).computedBy(computed.getKey(), computed.getValue()));
        }
        TableShape whole = shape;
        if (extract.where().isPresent()) {
            String where = extract.where().get();
            told("condition", () -> all(whole).where(where).schema());
            return whole.and(new RowFilter.Condition(where));
        }
        return whole;
    }

    private Dataset<Row> all(TableShape shape) {
        return shape.query().map(session::sql).orElseGet(() -> rows(shape.name()));
    }

    private boolean isWritten(TableShape shape) {
        return shape.query().isEmpty() && tables.isWritten();
    }

    /** The rows of a request as the executors have them, in no order. */
    public LakeRead distributed(ReadRequest request) {
        return told(request.table().name().toString(), () -> {
            Dataset<Row> rows = all(request.table());
            for (RowFilter filter : request.table().filters()) {
                rows = rows.where(LakeFilters.column(filter));
            }
            Map<String, StructField> fields = new HashMap<>();
            for (StructField field : rows.schema().fields()) {
                fields.put(field.name(), field);
            }
            List<String> read = new ArrayList<>();
            for (ColumnShape column : request.columns()) {
                String expression = column.expression().orElse("");
                read.add(
                        expression.isEmpty()
                                ? LakeTypes.read(
                                        column.name(), fields.get(column.name()).dataType(), isWritten(request.table()))
                                : "(" + expression + ") AS `" + column.name().replace("`", "``") + "`");
            }
            Dataset<Row> chosen = rows.selectExpr(read.toArray(new String[0]));
            chosen = request.skip() > 0 ? chosen.offset(Math.toIntExact(request.skip())) : chosen;
            chosen = request.limit().isPresent()
                    ? chosen.limit(Math.toIntExact(request.limit().getAsLong()))
                    : chosen;
            return new LakeRead(chosen, request.columns());
        });
    }

    @Override
    public RowSource read(ReadRequest request) {
        LakeRead read = distributed(request);
        return told(
                request.table().name().toString(),
                () -> RowPack.rows(read.packs(), request.columns().size()));
    }

    @Override
    public List<String> passedOver(TableName table) {
        return List.of();
    }

    @Override
    public Optional<String> imageForm() {
        return Optional.empty();
    }

    @Override
    public Place another() {
        LakePlace other = new LakePlace(session, label, tables);
        other.known.putAll(known);
        return other;
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

    @Override
    public void close() {
        // The session belongs to the driver.
    }
}
