package sharptally.engines.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.Aggregates;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Integrity;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Sampling;
import sharptally.core.place.part.Structure;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.catalogue.JdbcStructure;
import sharptally.engines.jdbc.catalogue.Shapes;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.join.JdbcJoins;
import sharptally.engines.jdbc.sums.JdbcAggregates;
import sharptally.engines.jdbc.sums.JdbcChecksums;
import sharptally.engines.jdbc.sums.JdbcIntegrity;

/**
 * A place behind a JDBC connection. Rows are read over the same connection, one query after the other, so that all of
 * them are seen in one state of the database; a query that is read while another one still is gets a connection of its
 * own.
 */
final class JdbcPlace implements Place {
    private final JdbcEngine engine;
    private final PlaceAccess access;
    private final Address address;
    private volatile Connection connection;
    private final boolean sharesState;
    private final Shapes shapes;
    private final RangeSeek seeking;
    private final Optional<JdbcChecksums> checksums;
    private final Optional<Joins> joins;
    private final Aggregates aggregates;
    private final Integrity integrity;
    private final Structure structure;
    private boolean reading;
    private volatile long begun = System.nanoTime();
    private final Object ending = new Object();
    private boolean closed;

    /**
     * @param connection read-only; closed together with the place
     */
    JdbcPlace(JdbcEngine engine, PlaceAccess access, Connection connection, boolean sharesState) {
        this.engine = engine;
        this.access = access;
        this.address = engine.catalogue().soleTable().isPresent()
                ? access.label()
                : access.label().withoutTable();
        this.connection = connection;
        this.sharesState = sharesState;
        this.shapes = new Shapes(engine, address, access.schema(), () -> this.connection);
        PlaceSession session =
                new PlaceSession(engine, address, () -> this.connection, this::readOurs, this::endStatement);
        this.seeking = new JdbcRanges(session);
        this.checksums = engine.hashing().map(hashing -> new JdbcChecksums(session, hashing, seeking));
        this.joins = engine.joining().map(joining -> new JdbcJoins(session, joining, access));
        this.integrity = new JdbcIntegrity(session);
        this.aggregates = new JdbcAggregates(session, shapes::countRows);
        this.structure = new JdbcStructure(session);
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
    public boolean readsOneState() {
        return access.session().snapshot()
                && access.session().limits().snapshot().isEmpty()
                && engine.connector().keepsOneState();
    }

    @Override
    public String ownSchema() {
        return shapes.ownSchema();
    }

    @Override
    public Optional<TableName> soleTable() {
        return engine.catalogue().soleTable();
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
    public Optional<Integrity> integrity() {
        return Optional.of(integrity);
    }

    @Override
    public Optional<Structure> structure() {
        return Optional.of(structure);
    }

    @Override
    public Optional<String> writtenTo() {
        return shapes.writtenTo();
    }

    @Override
    public Optional<Boolean> hasReplayed(String position) {
        return shapes.hasReplayed(position);
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
    public Estimate estimate(TableName table) {
        return shapes.estimate(table);
    }

    /** Where no snapshot is wanted, no transaction is left open, and none that is overdue. */
    private void endStatement() {
        if (!access.session().snapshot() || isOverdue()) {
            endState();
        }
    }

    private void endState() {
        try {
            endTransaction(connection);
            begun = System.nanoTime();
        } catch (SQLException e) {
            throw failed("can't end a transaction", e);
        }
    }

    @Override
    public boolean isOverdue() {
        Optional<Duration> age = access.session().limits().snapshot();
        return age.isPresent() && System.nanoTime() - begun > age.get().toNanos();
    }

    @Override
    public void rest() {
        if (access.session().limits().snapshot().isPresent() && !reading) {
            endState();
        }
    }

    @Override
    public Optional<RangeSeek> seeking() {
        return Optional.of(seeking);
    }

    @Override
    public Optional<Checksums> checksums() {
        return checksums.map(Checksums.class::cast);
    }

    @Override
    public Optional<Joins> joins() {
        return joins;
    }

    @Override
    public Optional<Aggregates> aggregates() {
        return Optional.of(aggregates);
    }

    @Override
    public Optional<Sampling> sampling() {
        return checksums.map(Sampling.class::cast);
    }

    @Override
    public Place another() {
        try {
            Optional<String> sharing = readsOneState() ? engine.connector().sharing(connection) : Optional.empty();
            Connection beside = connect();
            if (sharing.isPresent()) {
                share(beside, sharing.get());
            }
            return new JdbcPlace(engine, access, beside, sharing.isPresent());
        } catch (SQLException e) {
            throw failed("can't open a further connection", e);
        }
    }

    private static void share(Connection beside, String sharing) throws SQLException {
        try (Statement statement = beside.createStatement()) {
            statement.execute(sharing);
        } catch (SQLException e) {
            beside.close();
            throw e;
        }
    }

    @Override
    public boolean sharesState() {
        return sharesState;
    }

    @Override
    public RowSource read(ReadRequest request) {
        return rows(request, new Selects(engine));
    }

    private RowSource readOurs(ReadRequest request) {
        return rows(request, new Selects(engine, true));
    }

    private RowSource rows(ReadRequest request, Selects selects) {
        String sql = selects.rows(request);
        String where = address.withTable(request.table().name().toString()).toString();
        try {
            boolean shared = !reading;
            Connection used = shared ? connection : connect();
            BulkReading.Stream stream;
            try {
                stream = open(used, sql, request.columns());
            } catch (SQLException e) {
                if (!shared) {
                    used.close();
                }
                throw e;
            }
            reading = reading || shared;
            return new JdbcRowSource(
                    stream,
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
    public List<String> passedOver(TableName table) {
        return List.of();
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
            if (release == JdbcRowSource.Release.REUSABLE) {
                engine.connector().afterReading();
            }
            if (!shared) {
                try (Connection closing = used) {
                    endTransaction(closing);
                }
                return;
            }
            reading = false;
            if (release == JdbcRowSource.Release.SPENT) {
                used.close();
                renew();
            } else if (!access.session().snapshot()
                    || isOverdue()
                    || engine.connector().failureEndsTransaction()) {
                endTransaction(used);
                begun = System.nanoTime();
            }
        } catch (SQLException e) {
            throw failed("can't go on after reading was ended", e);
        }
    }

    /** Whoever ends reading may be late: a place that was closed meanwhile opens nothing more. */
    private void renew() throws SQLException {
        synchronized (ending) {
            if (!closed) {
                connection = connect();
                begun = System.nanoTime();
            }
        }
    }

    /** Some drivers know none. */
    private static void endTransaction(Connection used) throws SQLException {
        if (!used.getAutoCommit()) {
            used.rollback();
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.READ, what, address.toString(), e);
    }

    @Override
    public void close() {
        Connection last;
        synchronized (ending) {
            closed = true;
            last = connection;
        }
        try (Connection closing = last) {
            if (!closing.isClosed() && !closing.getAutoCommit()) {
                // Derby refuses to close within a transaction.
                closing.rollback();
            }
            engine.connector().end();
        } catch (SQLException e) {
            throw failed("can't close the connection", e);
        }
    }
}
