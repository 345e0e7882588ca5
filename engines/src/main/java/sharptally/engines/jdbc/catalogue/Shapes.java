package sharptally.engines.jdbc.catalogue;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;
import sharptally.core.place.Estimate;
import sharptally.core.place.Extract;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.Failures;
import sharptally.engines.jdbc.JdbcEngine;

/**
 * What a place tells of itself and of its tables, without their rows; tables and columns are asked for once. Used by one
 * thread.
 */
public final class Shapes {
    /** Who wants so many tables of a schema is given all of it at once, unless these are too many. */
    private static final int FEW = 5;

    private static final int MANY = 5_000;

    private final JdbcEngine engine;
    private final Address address;
    private final Optional<String> schema;
    private final Supplier<Connection> connection;
    private final Map<TableName, TableShape> known = new HashMap<>();
    private volatile Optional<String> usual = Optional.empty();
    private final Map<Optional<TableName>, Optional<String>> hidden = new HashMap<>();
    private Optional<List<TableName>> tables = Optional.empty();
    private final Map<Optional<String>, Integer> asked = new HashMap<>();

    /** What is asked of the catalogue. */
    private interface Question<T> {
        T ask(Connection connection) throws SQLException;
    }

    /**
     * @param schema the one whose tables alone are meant
     * @param connection the one that the place uses at the time
     */
    public Shapes(JdbcEngine engine, Address address, Optional<String> schema, Supplier<Connection> connection) {
        this.schema = schema;
        this.engine = engine;
        this.address = address;
        this.connection = connection;
    }

    private <T> T asked(String what, Question<T> question) {
        try {
            return question.ask(connection.get());
        } catch (SQLException e) {
            throw failed(what, e);
        }
    }

    private ToolException failed(String what, SQLException e) {
        return Failures.wrap(ErrorKind.READ, what, address.toString(), e);
    }

    public Map<String, String> facts() {
        return asked("can't ask what the database is like", engine.catalogue()::facts);
    }

    public String product() {
        return engine.catalogue()
                .product()
                .orElseGet(() -> asked("can't ask for the version", c -> {
                    var metadata = c.getMetaData();
                    return metadata.getDatabaseProductName() + " " + metadata.getDatabaseProductVersion();
                }));
    }

    public String ownSchema() {
        return schema.map(wanted -> chosen(wanted)).orElseGet(this::usualSchema);
    }

    /** Asked once: later on, the connection may be at work for another thread. */
    private String usualSchema() {
        if (usual.isEmpty()) {
            usual = Optional.of(asked("can't ask for the schema", engine.catalogue()::ownSchema));
        }
        return usual.get();
    }

    /** The schema that the user means: of exactly this name, else the only one that differs by letter case alone. */
    private String chosen(String wanted) {
        List<String> all = allTables().stream()
                .map(t -> t.schema().orElseGet(this::usualSchema))
                .distinct()
                .toList();
        List<String> alike =
                all.stream().filter(s -> s.equalsIgnoreCase(wanted)).toList();
        return all.stream()
                .filter(wanted::equals)
                .findFirst()
                .or(() -> alike.size() == 1 ? Optional.of(alike.get(0)) : Optional.empty())
                .orElseThrow(() -> new ToolException(
                        ErrorKind.USAGE,
                        "no table is in a schema of this name",
                        address + ", schema " + wanted,
                        all.isEmpty() ? "there is no table here" : "there are: " + String.join(", ", all)));
    }

    public List<TableName> tables() {
        if (tables.isEmpty()) {
            Optional<String> only = schema.map(this::chosen);
            tables = Optional.of(allTables().stream()
                    .filter(t -> only.isEmpty() || only.get().equals(t.schema().orElseGet(this::usualSchema)))
                    .toList());
        }
        return tables.get();
    }

    private List<TableName> allTables() {
        return asked("can't list tables", engine.catalogue()::tables);
    }

    public Optional<String> hides(Optional<TableName> table) {
        return hidden.computeIfAbsent(
                table,
                t -> asked("can't ask what is visible", c -> engine.catalogue().hides(c, t)));
    }

    public Optional<String> writtenTo() {
        return asked("can't ask how far it is written", c -> engine.catalogue().writtenTo(c));
    }

    public Optional<Boolean> hasReplayed(String position) {
        return asked("can't ask how far it has come", c -> engine.catalogue().hasReplayed(c, position));
    }

    public TableShape describe(String table) {
        TableName name = describing().named(table, tables(), ownSchema());
        TableShape shape = known.get(name);
        if (shape == null && asked.merge(name.schema(), 1, Integer::sum) == FEW && tables().size() <= MANY) {
            asked("can't read the columns of " + table, c -> engine.catalogue().describeAll(c, name))
                    .forEach(known::putIfAbsent);
            shape = known.get(name);
        }
        if (shape == null) {
            shape = asked(
                    "can't read the columns of " + table,
                    c -> engine.catalogue().describe(c, name));
            known.put(name, shape);
        }
        return shape;
    }

    public TableShape describe(Extract extract) {
        Optional<TableShape> table =
                extract.query().isPresent() ? Optional.empty() : Optional.of(describe(extract.name()));
        return describing().extract(extract, table);
    }

    public Optional<String> readProblem(TableName table) {
        return describing().readProblem(table);
    }

    private Describing describing() {
        return new Describing(engine, address, connection.get());
    }

    public Estimate estimate(TableName table) {
        return asked(
                "can't estimate the size of " + table, c -> engine.catalogue().estimate(c, table));
    }

    public long countRows(TableShape table) {
        return asked("can't count the rows of " + table.name(), c -> {
            try (Statement statement = c.createStatement();
                    ResultSet result = statement.executeQuery(
                            "SELECT COUNT(*) FROM " + engine.terms().rowsOf(table))) {
                result.next();
                return result.getLong(1);
            }
        });
    }
}
