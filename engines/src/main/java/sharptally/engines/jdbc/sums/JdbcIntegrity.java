package sharptally.engines.jdbc.sums;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import sharptally.core.place.part.Integrity;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.core.sql.SqlTerms;
import sharptally.engines.jdbc.PlaceSession;

/** Constraints looked at by queries of the standard. */
public record JdbcIntegrity(PlaceSession session) implements Integrity {
    private static final int EXAMPLES = 3;

    @Override
    public Unmet orphans(TableShape table, List<String> columns, TableName parent, List<String> parentColumns) {
        SqlTerms terms = terms();
        String named = IntStream.range(0, columns.size())
                .mapToObj(i -> "tally_parent." + terms.quote(parentColumns.get(i)) + " = tally_child."
                        + terms.quote(columns.get(i)))
                .collect(Collectors.joining(" AND "));
        return unmet(
                table,
                columns,
                terms.rowsOf(table) + " tally_child WHERE "
                        + columns.stream()
                                .map(c -> "tally_child." + terms.quote(c) + " IS NOT NULL")
                                .collect(Collectors.joining(" AND "))
                        + " AND NOT EXISTS (SELECT 1 FROM " + terms.quote(parent) + " tally_parent WHERE " + named
                        + ")");
    }

    @Override
    public Unmet repeated(TableShape table, List<String> columns) {
        SqlTerms terms = terms();
        String all = columns.stream().map(terms::quote).collect(Collectors.joining(", "));
        String filled =
                columns.stream().map(c -> terms.quote(c) + " IS NOT NULL").collect(Collectors.joining(" AND "));
        String grouped = "SELECT " + all + " FROM " + terms.rowsOf(table) + " WHERE " + filled + " GROUP BY " + all
                + " HAVING COUNT(*) > 1";
        return told(table, "SELECT COUNT(*) FROM (" + grouped + ") tally_repeated", grouped, columns.size());
    }

    @Override
    public Unmet empty(TableShape table, String column, List<String> key) {
        return unmet(
                table,
                key.isEmpty() ? List.of(column) : key,
                terms().rowsOf(table) + " WHERE " + terms().quote(column) + " IS NULL");
    }

    @Override
    public Optional<Numbers> numbers(TableShape table, ColumnShape column) {
        try {
            Optional<Long> next =
                    session.engine().catalogue().nextNumber(session.connection().get(), table.name(), column.name());
            if (next.isEmpty()) {
                return Optional.empty();
            }
            List<List<String>> most =
                    rows("SELECT MAX(" + terms().quote(column.name()) + ") FROM " + terms().rowsOf(table), 1, 1);
            String greatest = most.get(0).get(0);
            return Optional.of(new Numbers(
                    next.get(), greatest.isEmpty() ? Optional.empty() : Optional.of(Long.parseLong(greatest))));
        } catch (SQLException e) {
            throw session.failed("can't ask for the next number of " + table.name() + "." + column.name(), e);
        } finally {
            session.statementDone().run();
        }
    }

    private SqlTerms terms() {
        return session.engine().terms();
    }

    /** Counts what stands behind FROM, and reads some of it. */
    private Unmet unmet(TableShape table, List<String> columns, String from) {
        String values = columns.stream().map(terms()::quote).collect(Collectors.joining(", "));
        return told(table, "SELECT COUNT(*) FROM " + from, "SELECT " + values + " FROM " + from, columns.size());
    }

    private Unmet told(TableShape table, String counting, String reading, int columns) {
        try {
            long rows = Long.parseLong(rows(counting, 1, 1).get(0).get(0));
            return new Unmet(rows, rows == 0 ? List.of() : rows(reading, columns, EXAMPLES));
        } catch (SQLException e) {
            throw session.failed("can't look at the constraints of " + table.name(), e);
        } finally {
            session.statementDone().run();
        }
    }

    private List<List<String>> rows(String sql, int columns, int most) throws SQLException {
        try (Statement statement = session.connection().get().createStatement()) {
            statement.setMaxRows(most);
            List<List<String>> rows = new ArrayList<>();
            try (ResultSet result = statement.executeQuery(sql)) {
                while (result.next() && rows.size() < most) {
                    List<String> row = new ArrayList<>();
                    for (int i = 1; i <= columns; i++) {
                        String value = result.getString(i);
                        row.add(value == null ? "" : value);
                    }
                    rows.add(row);
                }
            }
            return rows;
        }
    }
}
