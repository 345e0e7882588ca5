package sharptally.api.probe;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Collectors;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Endpoint;
import sharptally.core.place.part.ChangeSession;
import sharptally.core.place.part.RefusedChange;
import sharptally.core.shape.TableName;
import sharptally.core.sql.SqlDialect;

/** Tables that are made for a while, under names that nobody else has, and dropped again. Used by one thread. */
final class Scratch implements AutoCloseable {
    private final SqlDialect dialect;
    private final Endpoint endpoint;
    private Optional<ChangeSession> session = Optional.empty();
    private final Optional<String> schema;
    private final String start;
    private final List<TableName> made = new ArrayList<>();
    private final List<String> left = new ArrayList<>();

    /**
     * @param schema where they are made; empty where tables go by their bare names
     */
    Scratch(Endpoint endpoint, Optional<String> schema) {
        this.dialect = endpoint.dialect();
        this.endpoint = endpoint;
        this.session = Optional.of(endpoint.openForChanges());
        this.schema = schema;
        this.start = "tally_probe_" + Long.toHexString(new Random().nextLong() & 0xFFFF_FFFFL) + "_";
    }

    /** Makes a table; why the database refuses it, else its name. */
    Made table(String name, String columns) {
        TableName table = new TableName(schema, start + name);
        Optional<String> refused = done("CREATE TABLE " + dialect.quote(table) + " (" + columns + ")");
        if (refused.isEmpty()) {
            made.add(table);
        }
        return new Made(table, refused);
    }

    /** The same with its first column as the key; where the database knows no keys, it only holds no NULL. */
    Made keyed(String name, String key, String other) {
        Made made = table(name, key + " NOT NULL PRIMARY KEY, " + other);
        return made.refused().isEmpty() ? made : table(name, key + " NOT NULL, " + other);
    }

    /** A table, or why there is none. */
    record Made(TableName table, Optional<String> refused) {}

    /** Inserts a row of values as they are; why the database refuses it, if so. */
    Optional<String> insert(TableName table, String... values) {
        return done("INSERT INTO " + dialect.quote(table) + " VALUES (" + String.join(", ", values) + ")");
    }

    /** Inserts rows that the database takes, together where it takes that. */
    void insertAll(TableName table, List<List<String>> rows) {
        String values =
                rows.stream().map(row -> "(" + String.join(", ", row) + ")").collect(Collectors.joining(", "));
        if (done("INSERT INTO " + dialect.quote(table) + " VALUES " + values).isPresent()) {
            rows.forEach(row -> insert(table, row.toArray(String[]::new)));
        }
    }

    /** Gives a column of one row another value. */
    Optional<String> update(TableName table, String id, String value) {
        return done("UPDATE " + dialect.quote(table) + " SET v = " + value + " WHERE id = " + id);
    }

    private Optional<String> done(String statement) {
        ChangeSession now = session.orElseGet(endpoint::openForChanges);
        session = Optional.of(now);
        try {
            now.set(statement);
            now.commit();
            return Optional.empty();
        } catch (RefusedChange e) {
            now.rollback();
            return Optional.of(String.valueOf(e.failure().getMessage()));
        } catch (ToolException e) {
            now.rollback();
            return Optional.of(String.valueOf(e.getMessage()));
        }
    }

    /** Lets go of the database, which may be a file that one program at a time may change. */
    void release() {
        session.ifPresent(ChangeSession::close);
        session = Optional.empty();
    }

    /** What could not be dropped, once it was closed. */
    List<String> left() {
        return List.copyOf(left);
    }

    @Override
    public void close() {
        try {
            for (TableName table : made) {
                done("DROP TABLE " + dialect.quote(table)).ifPresent(why -> left.add(table + ": " + why));
            }
            made.clear();
        } finally {
            release();
        }
    }
}
