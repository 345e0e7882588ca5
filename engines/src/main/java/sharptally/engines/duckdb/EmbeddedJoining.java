package sharptally.engines.duckdb;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.place.Address;
import sharptally.core.place.part.Obstacle;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableShape;
import sharptally.engines.jdbc.PlaceSession;
import sharptally.engines.jdbc.embed.Relations;
import sharptally.engines.jdbc.join.Joining;

/** Joins files of both sides in one database, which has them all within reach. */
record EmbeddedJoining(Relations relations) implements Joining {
    static final String BESIDE = "tally_other";

    private static final Joining PLAIN = new DuckJoining();

    @Override
    public String instance() {
        return "SELECT 'files of ' || version()";
    }

    @Override
    public Outer outer() {
        return PLAIN.outer();
    }

    @Override
    public Optional<Obstacle> problem(
            PlaceSession session, TableShape table, List<ColumnShape> columns, List<ColumnShape> key) {
        return Joining.hasOwnSql(table, columns) ? Optional.of(new Obstacle.OwnSql()) : Optional.empty();
    }

    @Override
    public Optional<String> unique(TableShape table, List<ColumnShape> key) {
        String columns = key.stream().map(c -> DuckDialect.quoted(c.name())).collect(Collectors.joining(", "));
        String filled = key.stream()
                .map(c -> DuckDialect.quoted(c.name()) + " IS NOT NULL")
                .collect(Collectors.joining(" AND "));
        return Optional.of("SELECT CAST(count(*) = count(DISTINCT (" + columns + ")) AND coalesce(bool_and(" + filled
                + "), true) AS INTEGER) FROM " + DuckDialect.quoted(table.name().name()));
    }

    @Override
    public String schemaOf(Connection connection, Address other, String own) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("CREATE SCHEMA IF NOT EXISTS " + BESIDE);
            int before = relations.byName().values().stream()
                    .mapToInt(relation -> relation.files().size())
                    .sum();
            EmbeddedConnector.define(statement, BESIDE + ".", relations.beside(), before);
            connection.commit();
        } catch (SQLException e) {
            connection.rollback();
            throw e;
        }
        return BESIDE;
    }

    @Override
    public String distinct(ColumnShape one, ColumnShape other) {
        return isPlainText(one) && isPlainText(other)
                ? DuckDialect.quoted(one.name()) + " IS DISTINCT FROM " + DuckDialect.quoted(other.name())
                : PLAIN.distinct(one, other);
    }

    @Override
    public String same(ColumnShape one, ColumnShape other) {
        return isPlainText(one) && isPlainText(other) ? "true" : PLAIN.same(one, other);
    }

    /** Text of files has no collation, so that it is compared by its bytes. */
    private static boolean isPlainText(ColumnShape column) {
        return column.declaredType().equals("VARCHAR");
    }
}
