package sharptally.engines.duckdb;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import sharptally.core.place.Estimate;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.Generation;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.Rows;
import sharptally.engines.jdbc.catalogue.Catalogue;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** Which files there are, and what the database makes of them. They have no keys. */
record EmbeddedCatalogue(Relations relations) implements Catalogue {
    private static final Catalogue DUCKDB = new DuckCatalogue();

    @Override
    public String ownSchema(Connection connection) throws SQLException {
        return DUCKDB.ownSchema(connection);
    }

    @Override
    public Optional<String> product() {
        return Optional.of(relations.product());
    }

    @Override
    public Optional<TableName> soleTable() {
        return relations.sole();
    }

    @Override
    public List<TableName> tables(Connection connection) {
        return List.copyOf(relations.byName().keySet());
    }

    @Override
    public Map<String, String> facts(Connection connection) {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("TLS", "none: files on this machine");
        facts.put("character set", "UTF-8");
        return facts;
    }

    @Override
    public Estimate estimate(Connection connection, TableName table) throws SQLException {
        List<Path> files = relations.byName().get(table).files();
        long bytes = files.stream().mapToLong(f -> f.toFile().length()).sum();
        long rows = Rows.read(
                        connection,
                        "SELECT sum(num_rows) FROM parquet_file_metadata("
                                + Confinement.listed(files.stream()
                                        .map(f -> f.toAbsolutePath().toString())
                                        .toList())
                                + ")",
                        row -> row.getLong(1))
                .get(0);
        return new Estimate(OptionalLong.of(rows), OptionalLong.of(bytes));
    }

    @Override
    public Optional<String> hides(Connection connection, Optional<TableName> table) {
        return Optional.empty();
    }

    @Override
    public TableShape describe(Connection connection, TableName table) throws SQLException {
        boolean copied = relations.byName().get(table) instanceof Relation.Copied;
        List<ColumnShape> all = Rows.read(
                connection,
                "DESCRIBE " + DuckDialect.quoted(table.name()),
                row -> column(row.getString("column_name"), row.getString("column_type"), Generation.NONE, copied));
        Optional<String> position = copied
                ? Optional.empty()
                : EmbeddedConnector.position(all.stream().map(ColumnShape::name).toList());
        TableShape shape = new TableShape(
                table,
                false,
                all.stream()
                        .filter(c -> !position.equals(Optional.of(c.name())))
                        .toList(),
                List.of(),
                List.of(),
                false);
        return position.map(name -> shape.tellingPosition(new ColumnShape(
                        name,
                        EmbeddedConnector.POSITION,
                        Optional.of(CanonicalType.of(Kind.TEXT)),
                        true,
                        Generation.COMPUTED,
                        Optional.empty())))
                .orElse(shape);
    }

    @Override
    public List<ColumnShape> describeQuery(Connection connection, String query) throws SQLException {
        boolean copied = relations.byName().values().stream().anyMatch(Relation.Copied.class::isInstance);
        List<ColumnShape> all = Rows.read(
                connection,
                "DESCRIBE SELECT * FROM (" + query + "\n) tally_described",
                row -> column(row.getString("column_name"), row.getString("column_type"), Generation.COMPUTED, copied));
        // Where rows stand is nothing that a file holds.
        Set<String> positions = new HashSet<>();
        for (TableName table :
                copied ? List.<TableName>of() : relations.byName().keySet()) {
            describe(connection, table).position().ifPresent(c -> positions.add(c.name()));
        }
        return all.stream().filter(c -> !positions.contains(c.name())).toList();
    }

    /** Of rows that were copied as text, text is the writing of a value whose type only the other side tells. */
    private static ColumnShape column(String name, String type, Generation generation, boolean copied) {
        CanonicalType canonical = DuckTypes.canonical(type);
        return new ColumnShape(
                name,
                type,
                Optional.of(copied && canonical.kind() == Kind.TEXT ? CanonicalType.written() : canonical),
                true,
                generation,
                Optional.empty());
    }
}
