package sharptally.engines.duckdb;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.duckdb.DuckDBConnection;
import sharptally.core.place.PlaceAccess;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.connect.NativeLibrary;
import sharptally.engines.jdbc.connect.OwnDriver;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** Opens a database in memory, and makes its tables of files: no other file is within its reach. */
final class EmbeddedConnector implements Connector {
    /** The column that tells where a row stands; with more of them, where a table has one of this name. */
    static final String POSITION = "tally_position";
    /** A row stands at the number of its file, and this many bits of its own; it is written out for those that are told. */
    private static final int NUMBER_BITS = 40;

    private static final String RAW = "tally_raw ";

    private final Relations relations;
    private Optional<DuckDBConnection> root = Optional.empty();

    EmbeddedConnector(Relations relations) {
        this.relations = relations;
    }

    @Override
    public boolean keepsOneState() {
        return true;
    }

    @Override
    public boolean failureEndsTransaction() {
        return true;
    }

    @Override
    public Optional<String> sharing(Connection other) {
        return Optional.empty();
    }

    @Override
    public List<String> restoring(Connection connection) {
        return List.of();
    }

    @Override
    public void afterReading() {
        relations.unchanged().run();
    }

    @Override
    public Connection prepare(Connection connection, PlaceAccess place, Access access) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET TimeZone = 'UTC'");
        }
        connection.setAutoCommit(false);
        return connection;
    }

    /** All connections are to one database, whose tables are made once. */
    @Override
    public synchronized Connection connect(PlaceAccess place, Access access) throws SQLException {
        if (root.isEmpty()) {
            root = Optional.of(opened(place));
        }
        Connection connection = root.get().duplicate();
        return prepare(connection, place, access);
    }

    @Override
    public synchronized void end() throws SQLException {
        if (root.isPresent()) {
            root.get().close();
            root = Optional.empty();
        }
    }

    private DuckDBConnection opened(PlaceAccess place) throws SQLException {
        NativeLibrary.load("DuckDB", () -> Class.forName("org.duckdb.DuckDBNative"));
        Properties properties = new Properties();
        // Without this, the driver holds a whole result before it hands out the first row.
        properties.setProperty("jdbc_stream_results", "true");
        DuckDBConnection connection =
                (DuckDBConnection) OwnDriver.connect(new org.duckdb.DuckDBDriver(), "jdbc:duckdb:", properties);
        try (Statement statement = connection.createStatement()) {
            List<String> within = Stream.of(
                            relations.byName().values(), relations.beside().values())
                    .flatMap(all -> all.stream())
                    .flatMap(relation -> relation.files().stream())
                    .map(file -> file.toAbsolutePath().toString())
                    .collect(Collectors.toCollection(ArrayList::new));
            relations
                    .written()
                    .ifPresent(file -> within.add(file.toAbsolutePath().toString()));
            Confinement.to(statement, place, within);
            statement.execute("SET TimeZone = 'UTC'");
            define(statement, "", relations.byName(), 0);
            tellPositions(statement);
            return connection;
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    /** The name of the table whose rows are as they were copied. */
    static String raw(TableName name) {
        return RAW + name.name();
    }

    static String text(Path file) {
        return "'" + file.toAbsolutePath().toString().replace("'", "''") + "'";
    }

    /** What writes out where a row stands, of any of the files. */
    private void tellPositions(Statement statement) throws SQLException {
        List<String> names = Stream.of(relations.byName(), relations.beside())
                .flatMap(all -> all.values().stream())
                .flatMap(relation -> relation.files().stream())
                .map(file -> file.getFileName().toString())
                .toList();
        long mask = (1L << NUMBER_BITS) - 1;
        statement.execute("CREATE OR REPLACE MACRO main." + POSITION + "(p) AS " + Confinement.listed(names) + "[(p >> "
                + NUMBER_BITS + ") + 1] || CASE WHEN p & " + mask + " > 0 THEN ':' || (p & " + mask + ") ELSE '' END");
    }

    /**
     * Makes a view of each table.
     *
     * @param firstFile how many files come before those of these tables
     */
    static void define(Statement statement, String schema, Map<TableName, Relation> tables, int firstFile)
            throws SQLException {
        int first = firstFile;
        for (Map.Entry<TableName, Relation> table : tables.entrySet()) {
            define(statement, schema, table.getKey(), table.getValue(), first);
            first += table.getValue().files().size();
        }
    }

    /**
     * Makes a view by the table's name.
     *
     * @param schema with a dot behind it; empty for the usual one
     * @param firstFile how many files come before those of the table
     */
    private static void define(Statement statement, String schema, TableName name, Relation relation, int firstFile)
            throws SQLException {
        String view = "CREATE OR REPLACE VIEW " + schema + DuckDialect.quoted(name.name()) + " AS ";
        if (relation instanceof Relation.Copied copied) {
            String raw = schema + DuckDialect.quoted(raw(name));
            load(statement, raw, copied);
            String typed = new CopiedTypes(copied.columns()).typed(statement, raw);
            statement.execute(view + typed + " FROM " + raw);
            if (copied.counted()) {
                statement.execute("CREATE OR REPLACE VIEW " + schema
                        + DuckDialect.quoted(Relation.COUNTED + " " + name.name()) + " AS " + typed + ", "
                        + DuckDialect.quoted(counted(copied)) + " AS " + DuckDialect.quoted(Relation.COUNTED) + " FROM "
                        + raw);
            }
            return;
        }
        List<Path> files = relation.files();
        List<String> columns = columns(statement, files.get(0));
        String position = POSITION;
        while (holds(columns, position)) {
            position += "_";
        }
        List<String> parts = new ArrayList<>();
        for (int i = 0; i < files.size(); i++) {
            Path file = files.get(i);
            List<String> own = columns(statement, file);
            if (own.size() != columns.size() || !own.containsAll(columns)) {
                throw new SQLException("the columns of " + file.getFileName() + " are not those of "
                        + files.get(0).getFileName() + ", and both are one table");
            }
            parts.add("SELECT " + columns.stream().map(DuckDialect::quoted).collect(Collectors.joining(", "))
                    + position(firstFile + i, columns, position) + " FROM read_parquet(" + text(file)
                    + (columns.contains("file_row_number") ? ")" : ", file_row_number = true)"));
        }
        statement.execute(view + String.join(" UNION ALL ", parts));
    }

    /** Whether a column is where a row stands. */
    static boolean isPosition(ColumnShape column) {
        return column.declaredType().equals(POSITION);
    }

    /** Names differ by more than letter case. */
    private static boolean holds(List<String> columns, String name) {
        return columns.stream().anyMatch(name::equalsIgnoreCase);
    }

    /** Of rows that have no number, the file alone is told. */
    private static String position(int file, List<String> columns, String position) {
        String number = columns.contains("file_row_number") ? "0" : "file_row_number + 1";
        return ", (" + file + "::BIGINT << " + NUMBER_BITS + ") + " + number + " AS " + position;
    }

    private static List<String> columns(Statement statement, Path file) throws SQLException {
        List<String> names = new ArrayList<>();
        try (ResultSet rows = statement.executeQuery("DESCRIBE SELECT * FROM read_parquet(" + text(file) + ")")) {
            while (rows.next()) {
                names.add(rows.getString(1));
            }
        }
        return names;
    }

    /** A name that none of the columns has. */
    private static String counted(Relation.Copied copied) {
        String name = Relation.COUNTED;
        while (holds(copied.columns(), name)) {
            name += "_";
        }
        return name;
    }

    static void load(Statement statement, String table, Relation.Copied copied) throws SQLException {
        List<String> all = Stream.concat(
                        copied.columns().stream().map(c -> DuckDialect.quoted(c) + " VARCHAR"),
                        copied.counted() ? Stream.of(DuckDialect.quoted(counted(copied)) + " BIGINT") : Stream.empty())
                .toList();
        statement.execute("CREATE TABLE " + table + " (" + String.join(", ", all) + ")");
        statement.execute("COPY " + table + " FROM " + text(copied.file())
                + " (FORMAT csv, HEADER false, DELIMITER ',', QUOTE '\"', ESCAPE '\"', NULLSTR '', ALLOW_QUOTED_NULLS false,"
                + " AUTO_DETECT false, MAX_LINE_SIZE 134217728, NEW_LINE '\\n')");
    }

    /** The column that tells where rows stand; empty where there is none. */
    static Optional<String> position(List<String> columns) {
        return columns.stream().filter(c -> c.startsWith(POSITION)).reduce((one, last) -> last);
    }
}
