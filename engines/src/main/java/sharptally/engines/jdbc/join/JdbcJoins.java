package sharptally.engines.jdbc.join;

import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.JoinRequest;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.Standpoint;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.Rows;

/** Joins on a database's server. */
public final class JdbcJoins implements Joins {
    private static final SecureRandom RANDOM = new SecureRandom();

    private final PlaceSession session;
    private final Joining joining;
    private final Address where;
    private final Map<String, String> properties;
    private final Map<JdbcJoins, Boolean> seenBy = new IdentityHashMap<>();
    private String instance = "";
    private Optional<Standpoint> standpoint = Optional.empty();

    /**
     * @param access by which the session was opened
     */
    public JdbcJoins(PlaceSession session, Joining joining, PlaceAccess access) {
        this.session = session;
        this.joining = joining;
        this.where = access.address().withoutTable();
        this.properties = access.properties();
    }

    @Override
    public boolean isFoundUnique(TableShape table, List<ColumnShape> key) {
        Optional<String> question = joining.unique(table, key);
        boolean unique = question.isPresent()
                && session.asked(question.get(), "can't look whether the key is unique")
                        .equals("1");
        session.statementDone().run();
        return unique;
    }

    @Override
    public Optional<Obstacle> problem(TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        return joining.problem(session, table, columns, key);
    }

    @Override
    public TableShape reached(Place other, TableShape table) {
        Address there = other.joins()
                .filter(JdbcJoins.class::isInstance)
                .map(joins -> ((JdbcJoins) joins).where)
                .orElseThrow();
        if (there.equals(where)) {
            return table.inSchema(other.ownSchema());
        }
        try {
            TableShape full =
                    table.inSchema(joining.schemaOf(session.connection().get(), there, other.ownSchema()));
            return full.called(joining.named(there, full.name()));
        } catch (SQLException e) {
            throw session.failed("can't reach the other database from this one", e);
        }
    }

    @Override
    public String instance() {
        if (instance.isEmpty()) {
            // Where that can't be told, it is like no other one.
            instance = session.engine().name() + " "
                    + Optional.ofNullable(session.asked(joining.instance(), "can't ask which server this is"))
                            .orElseGet(() -> "unknown " + UUID.randomUUID());
        }
        return instance;
    }

    @Override
    public boolean isSeenBy(Joins other) {
        Optional<Joining.Sign> sign = joining.sign(RANDOM.nextLong());
        return sign.isEmpty()
                || other instanceof JdbcJoins there && seenBy.computeIfAbsent(there, t -> isSeen(sign.get(), t));
    }

    private boolean isSeen(Joining.Sign sign, JdbcJoins there) {
        try {
            return "1".equals(asked(sign.given())) && "1".equals(there.asked(sign.seen()));
        } catch (SQLException e) {
            // Who may not give signs, reads.
            return false;
        } finally {
            sign.taken().ifPresent(taken -> session.asked(taken, "can't take a lock back"));
            session.statementDone().run();
            there.session.statementDone().run();
        }
    }

    /** The one value of a query; where it fails, the transaction goes on. */
    private String asked(String question) throws SQLException {
        Connection connection = session.connection().get();
        Savepoint before = connection.setSavepoint();
        try {
            String answer =
                    Rows.read(connection, question, row -> row.getString(1)).get(0);
            connection.releaseSavepoint(before);
            return answer;
        } catch (SQLException e) {
            connection.rollback(before);
            throw e;
        }
    }

    @Override
    public Standpoint standpoint() {
        if (standpoint.isEmpty()) {
            standpoint = Optional.of(new Standpoint(
                    joining.reader().map(this::stated).orElse(""),
                    properties,
                    joining.names().map(this::stated).orElse("")));
        }
        return standpoint.get();
    }

    private String stated(String question) {
        return session.asked(question, "can't ask as whom it is read");
    }

    @Override
    public boolean dependsOnStandpoint(TableShape table, List<ColumnShape> columns, Standpoint other) {
        boolean ownSql = Joining.hasOwnSql(table, columns);
        return (ownSql || table.view()) && !standpoint().isOfOneReader(other)
                || ownSql
                        && !standpoint().names().equals(other.names())
                        && joining.dependsOnNames(session, table, columns);
    }

    @Override
    public RowSource joined(JoinRequest request) {
        TableShape joined = new JoinSelects(session.engine(), joining).joined(request);
        int read = request.sourceColumns().size() + request.targetColumns().size();
        List<ColumnShape> all = joined.columns();
        return session.reader().apply(new ReadRequest(joined, all.subList(0, read), all.subList(read, all.size())));
    }

    @Override
    public long rows(TableShape table, List<ColumnShape> key, KeyRange range) {
        long rows = Long.parseLong(session.asked(session.selects().count(table, key, range), "can't count rows"));
        session.statementDone().run();
        return rows;
    }
}
