package sharptally.engines.jdbc.join;

import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import sharptally.core.place.Address;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.part.JoinRequest;
import sharptally.core.place.part.Joins;
import sharptally.core.place.part.Obstacle;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;

/** Joins on a database's server. */
public final class JdbcJoins implements Joins {
    private final PlaceSession session;
    private final Joining joining;
    private final Address where;
    private String instance = "";

    /**
     * @param where the database is, which the session's address may only name
     */
    public JdbcJoins(PlaceSession session, Joining joining, Address where) {
        this.session = session;
        this.joining = joining;
        this.where = where.withoutTable();
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
    public String schemaOf(Place other) {
        Address there = other.joins()
                .filter(JdbcJoins.class::isInstance)
                .map(joins -> ((JdbcJoins) joins).where)
                .orElseThrow();
        if (there.equals(where)) {
            return other.ownSchema();
        }
        try {
            return joining.schemaOf(session.connection().get(), there, other.ownSchema());
        } catch (SQLException e) {
            throw session.failed("can't reach the other database from this one", e);
        }
    }

    @Override
    public String instance() {
        if (instance.isEmpty()) {
            instance =
                    session.engine().name() + " " + session.asked(joining.instance(), "can't ask which server this is");
        }
        return instance;
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
