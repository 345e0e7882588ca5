package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.place.JoinRequest;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Seek;
import sharptally.core.place.SumsRequest;
import sharptally.core.place.TotalsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.catalogue.Shapes;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.join.Joins;
import sharptally.engines.jdbc.sums.SumReading;

/**
 * A place behind a JDBC connection. Rows are read over the same connection, one query after the other, so that all of
 * them are seen in one state of the database; a query that is read while another one still is gets a connection of its
 * own.
 */
final class JdbcPlace implements Place {
    private final JdbcEngine engine;
    private final PlaceAccess access;
    private final Address address;
    private Connection connection;
    private final boolean sharesState;
    private final Shapes shapes;
    private Optional<String> ownForm = Optional.empty();
    private Optional<String> instance = Optional.empty();
    private final SumReading sumReading;
    private boolean reading;

    /**
     * @param connection read-only; closed together with the place
     */
    JdbcPlace(JdbcEngine engine, PlaceAccess access, Connection connection, boolean sharesState) {
        this.engine = engine;
        this.access = access;
        this.address = access.label().withoutTable();
        this.connection = connection;
        this.sharesState = sharesState;
        this.shapes = new Shapes(engine, address, access.schema(), () -> this.connection);
        this.sumReading = new SumReading(engine, address);
    }

    private Connection connect() throws SQLException {
        return engine.connector().connect(access, Connector.Access.READ_ONLY);
    }

    @Override
    public Address address() {
        return address;
    }

    @Override
    public Map<String, String> facts() {
        return shapes.facts();
    }

    @Override
    public String product() {
        return shapes.product();
    }

    @Override
    public String ownSchema() {
        return shapes.ownSchema();
    }

    @Override
    public List<TableName> tables() {
        return shapes.tables();
    }

    @Override
    public Optional<String> hides(Optional<TableName> table) {
        return shapes.hides(table);
    }

    @Override
    public TableShape describe(String table) {
        return shapes.describe(table);
    }

    @Override
    public TableShape describe(Extract extract) {
        return shapes.describe(extract);
    }

    @Override
    public long countRows(TableShape table) {
        return shapes.countRows(table);
    }

    @Override
    public Estimate estimate(TableName table) {
        return shapes.estimate(table);
    }

    @Override
    public Seek seek(TableShape table, List<ColumnShape> key) {
        List<String> names = key.stream().map(ColumnShape::name).toList();
        boolean indexed = table.query().isEmpty()
                && table.keys().stream()
                        .map(KeyShape::columns)
                        .anyMatch(k -> k.size() >= names.size()
                                && k.subList(0, names.size()).equals(names));
        return key.stream()
                .map(c -> c.expression().isPresent()
                        ? Seek.NEVER
                        : engine.reading().seek(c))
                .map(s -> s == Seek.BY_INDEX && !indexed ? Seek.BY_SCAN : s)
                .max(Comparator.naturalOrder())
                .orElse(Seek.NEVER);
    }

    @Override
    public List<List<Value>> bounds(ReadRequest keys, long rowsPerRange) {
        List<List<Value>> bounds = new ArrayList<>();
        if (seek(keys.table(), keys.orderBy()) != Seek.BY_INDEX) {
            TableShape numbered = TableShape.ofQuery(
                    keys.table().name(), new Selects(engine).bounds(keys, rowsPerRange), keys.columns());
            readAll(new ReadRequest(numbered, keys.columns(), keys.orderBy()), bounds::add);
        } else {
            ReadRequest next = keys.first(1).skipping(rowsPerRange);
            int before;
            do {
                before = bounds.size();
                readAll(next, bounds::add);
                if (bounds.size() > before) {
                    List<Value> to = keys.ranges().isEmpty()
                            ? List.of()
                            : keys.ranges().get(0).to();
                    next = next.within(List.of(new KeyRange(bounds.get(before), to)));
                }
            } while (bounds.size() > before);
        }
        bounds.removeIf(bound -> bound.contains(Value.NULL));
        return bounds;
    }

    private void readAll(ReadRequest request, Consumer<List<Value>> to) {
        try (RowSource rows = read(request)) {
            for (var batch = rows.next(); batch.isPresent(); batch = rows.next()) {
                for (int row = 0; row < batch.get().rows(); row++) {
                    to.accept(batch.get().row(row));
                }
            }
        }
    }

    @Override
    public Optional<String> ownForm() {
        if (ownForm.isEmpty()) {
            ownForm = engine.hashing().ownForm().map(sql -> asked(sql, "can't ask for the hash functions"));
        }
        return ownForm;
    }

    private String asked(String sql, String what) {
        try {
            return Rows.read(connection, sql, row -> row.getString(1)).get(0);
        } catch (SQLException e) {
            throw failed(what, e);
        }
    }

    @Override
    public Optional<String> sumsProblem(SumsRequest request) {
        return request.form() == SumsRequest.Form.OWN
                ? engine.hashing().ownProblem(request.columns())
                : engine.hashing().commonProblem(request.columns());
    }

    @Override
    public Map<Long, RangeSum> sums(SumsRequest request) {
        Map<Long, RangeSum> sums =
                sumReading.read(connection, request, seek(request.table(), request.key()) == Seek.BY_INDEX);
        endStatement();
        return sums;
    }

    /** Where no snapshot is wanted, no transaction is left open. */
    private void endStatement() {
        try {
            if (!access.snapshot()) {
                connection.rollback();
            }
        } catch (SQLException e) {
            throw failed("can't end a transaction", e);
        }
    }

    @Override
    public String atLeast(ColumnShape column, Value value) {
        return engine.reading().compared(column, ">=", engine.dialect().literal(value, column));
    }

    @Override
    public Optional<String> sampled(List<ColumnShape> key, List<Kind> comparedAs, long shares, long ofShares) {
        List<SumsRequest.Hashed> hashed = java.util.stream.IntStream.range(0, key.size())
                .mapToObj(i -> new SumsRequest.Hashed(
                        key.get(i),
                        comparedAs.get(i),
                        key.get(i).type().orElseThrow().digits()))
                .toList();
        return key.isEmpty() || engine.hashing().commonProblem(hashed).isPresent()
                ? Optional.empty()
                : Optional.of("(" + engine.hashing().common(hashed) + " & " + (ofShares - 1) + ") < " + shares);
    }

    @Override
    public Optional<String> instance() {
        if (instance.isEmpty()) {
            instance = engine.joining()
                    .instance()
                    .map(sql -> engine.name() + " " + asked(sql, "can't ask which server this is"));
        }
        return instance;
    }

    @Override
    public RowSource joined(JoinRequest request) {
        TableShape joined = new Joins(engine).joined(request);
        int read = request.sourceColumns().size() + request.targetColumns().size();
        List<ColumnShape> all = joined.columns();
        return read(new ReadRequest(joined, all.subList(0, read), all.subList(read, all.size())));
    }

    @Override
    public void cancel() {
        sumReading.cancel();
    }

    @Override
    public TableShape totals(TotalsRequest request) {
        return new Selects(engine).totals(request);
    }

    @Override
    public List<List<Value>> repeatedKeys(TableShape table, List<ColumnShape> key, int limit) {
        TableShape repeated = new Selects(engine).repeated(table, key);
        List<List<Value>> keys = new ArrayList<>();
        readAll(new ReadRequest(repeated, repeated.columns(), List.of()).first(limit), keys::add);
        return keys;
    }

    @Override
    public Place another() {
        try {
            Optional<Connection> beside =
                    access.snapshot() ? engine.connector().connectBeside(access, connection) : Optional.empty();
            return new JdbcPlace(engine, access, beside.isPresent() ? beside.get() : connect(), beside.isPresent());
        } catch (SQLException e) {
            throw failed("can't open a further connection", e);
        }
    }

    @Override
    public boolean sharesState() {
        return sharesState;
    }

    @Override
    public RowSource read(ReadRequest request) {
        String sql = new Selects(engine).rows(request);
        String where = address.withTable(request.table().name().toString()).toString();
        try {
            boolean shared = !reading;
            Connection used = shared ? connection : connect();
            reading = reading || shared;
            return new JdbcRowSource(
                    open(used, sql, request.columns()),
                    request.columns().size(),
                    early(request),
                    where,
                    release -> released(used, shared, release));
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.READ, "can't read rows", where, e);
        }
    }

    /** Of rows with images, the columns of their order are decoded at once. */
    private static Optional<boolean[]> early(ReadRequest request) {
        if (!request.images()) {
            return Optional.empty();
        }
        boolean[] early = new boolean[request.columns().size()];
        for (int i = 0; i < early.length; i++) {
            early[i] = request.orderBy().contains(request.columns().get(i));
        }
        return Optional.of(early);
    }

    @Override
    public Optional<String> imageForm() {
        return engine.reading().bulk().filter(b -> b.isAllowed(connection)).map(BulkReading::form);
    }

    @Override
    public Optional<String> readProblem(TableName table) {
        return shapes.readProblem(table);
    }

    private BulkReading.Stream open(Connection used, String sql, List<ColumnShape> columns) throws SQLException {
        Reading how = engine.reading();
        Optional<BulkReading> bulk = how.bulk().filter(b -> b.isAllowed(used));
        if (bulk.isPresent()) {
            return bulk.get().open(used, sql, columns);
        }
        return RowStream.open(used, how, sql, columns.stream().map(how::reader).toArray(CellReader[]::new));
    }

    private void released(Connection used, boolean shared, JdbcRowSource.Release release) {
        try {
            if (!shared) {
                used.rollback();
                used.close();
                return;
            }
            reading = false;
            if (release == JdbcRowSource.Release.SPENT) {
                used.close();
                connection = connect();
            } else if (!access.snapshot()) {
                used.rollback();
            }
        } catch (SQLException e) {
            throw failed("can't go on after reading was ended", e);
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.READ, what, address.toString(), e);
    }

    @Override
    public void close() {
        try {
            if (!connection.isClosed() && !connection.getAutoCommit()) {
                // Derby refuses to close within a transaction.
                connection.rollback();
            }
            connection.close();
        } catch (SQLException e) {
            throw failed("can't close the place", e);
        }
    }
}
