package sharptally.engines.duckdb;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.shape.TableName;
import sharptally.core.sql.SqlDialect;
import sharptally.engines.jdbc.Failures;
import sharptally.engines.jdbc.JdbcEngine;
import sharptally.engines.jdbc.connect.Connector;
import sharptally.engines.jdbc.embed.Embedded;
import sharptally.engines.jdbc.embed.Relation;
import sharptally.engines.jdbc.embed.Relations;

/** DuckDB over files, in memory; what does not fit goes to a temporary folder. */
public record EmbeddedDuckDb() implements Embedded {
    @Override
    public Place open(PlaceAccess access, Relations relations) {
        return new JdbcEngine(
                        relations.engine(),
                        new EmbeddedConnector(relations),
                        new EmbeddedCatalogue(relations),
                        new DuckReading(),
                        DuckDb.TOTALS,
                        Optional.empty(),
                        Optional.of(new EmbeddedJoining(relations)),
                        new DuckDialect(),
                        Optional.empty())
                .open(access);
    }

    /** Bytes were written as digits. */
    private static String term(Kept column) {
        String name = DuckDialect.quoted(column.name());
        return column.type().equals("BLOB") ? "unhex(" + name + ")" : "CAST(" + name + " AS " + column.type() + ")";
    }

    @Override
    public SqlDialect dialect() {
        return new DuckDialect();
    }

    @Override
    public void write(PlaceAccess access, Relation.Copied relation, List<Kept> columns, Path parquet) {
        TableName rows = TableName.of("rows");
        Relations relations = new Relations(
                "parquet", "rows", Optional.empty(), Map.of(), Map.of(rows, relation), Optional.of(parquet), () -> {});
        String terms = columns.stream()
                .map(c -> term(c) + " AS " + DuckDialect.quoted(c.name()))
                .collect(Collectors.joining(", "));
        try (Connection connection = new EmbeddedConnector(relations).connect(access, Connector.Access.READ_ONLY);
                Statement statement = connection.createStatement()) {
            EmbeddedConnector.load(statement, DuckDialect.quoted(EmbeddedConnector.raw(rows)), relation);
            statement.execute("COPY (SELECT " + terms + " FROM " + DuckDialect.quoted(EmbeddedConnector.raw(rows))
                    + ") TO " + EmbeddedConnector.text(parquet) + " (FORMAT parquet, COMPRESSION zstd)");
        } catch (SQLException e) {
            throw Failures.wrap(ErrorKind.INCOMPLETE, "can't write the file", parquet.toString(), e);
        }
    }
}
