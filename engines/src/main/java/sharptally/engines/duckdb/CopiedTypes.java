package sharptally.engines.duckdb;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Which types the columns of rows have that were copied as text: those in which each of their values is written as the
 * database itself would write it, so that nothing is lost by them; else they are text.
 */
record CopiedTypes(List<String> columns) {
    private static final int MAX_DIGITS = 38;
    private static final int COLUMNS_AT_ONCE = 200;

    /** A query of the columns in their types, without its FROM. */
    String typed(Statement statement, String table) throws SQLException {
        List<String> terms = new ArrayList<>();
        for (int from = 0; from < columns.size(); from += COLUMNS_AT_ONCE) {
            terms.addAll(
                    terms(statement, table, columns.subList(from, Math.min(columns.size(), from + COLUMNS_AT_ONCE))));
        }
        return "SELECT " + String.join(", ", terms);
    }

    private static List<String> terms(Statement statement, String table, List<String> some) throws SQLException {
        String question = some.stream().map(CopiedTypes::question).collect(Collectors.joining(", "));
        try (ResultSet answer = statement.executeQuery("SELECT " + question + " FROM " + table)) {
            answer.next();
            List<String> terms = new ArrayList<>();
            for (int i = 0; i < some.size(); i++) {
                String name = DuckDialect.quoted(some.get(i));
                String type = answer.getString(i + 1);
                terms.add(type.equals("VARCHAR") ? name : "CAST(" + name + " AS " + type + ") AS " + name);
            }
            return terms;
        }
    }

    /** The type of a column, worked out from all of its values. */
    private static String question(String column) {
        String c = DuckDialect.quoted(column);
        return "CASE WHEN count(" + c + ") = 0 THEN 'VARCHAR'"
                + " WHEN " + all(c, "CAST(TRY_CAST(" + c + " AS BIGINT) AS VARCHAR) = " + c) + " THEN 'BIGINT'"
                + " WHEN " + all(c, "regexp_matches(" + c + ", '^-?(0|[1-9][0-9]{0,18})([.][0-9]{1,18})?$')")
                + " THEN 'DECIMAL(" + MAX_DIGITS + ", ' || max(CASE WHEN contains(" + c + ", '.') THEN length(" + c
                + ") - strpos(" + c + ", '.') ELSE 0 END) || ')'"
                + " WHEN " + all(c, c + " IN ('true', 'false')") + " THEN 'BOOLEAN'"
                + " WHEN " + all(c, "CAST(TRY_CAST(" + c + " AS DATE) AS VARCHAR) = " + c) + " THEN 'DATE'"
                + " WHEN "
                + all(
                        c,
                        "regexp_matches(" + c
                                + ", '^[0-9]{4}-[0-9]{2}-[0-9]{2}[ T][0-9]{2}:[0-9]{2}:[0-9]{2}([.][0-9]{1,6})?$')"
                                + " AND TRY_CAST(" + c + " AS TIMESTAMP) IS NOT NULL")
                + " THEN 'TIMESTAMP' ELSE 'VARCHAR' END";
    }

    private static String all(String column, String condition) {
        return "bool_and(" + column + " IS NULL OR coalesce(" + condition + ", false))";
    }
}
