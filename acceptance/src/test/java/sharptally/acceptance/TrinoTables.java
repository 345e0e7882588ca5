package sharptally.acceptance;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** Tables of one schema in a Trino. */
record TrinoTables(String server, String catalogue, String schema) {
    String address() {
        return "trino://" + server + "/" + catalogue + "/" + schema;
    }

    /** Whether its names, which are of small letters, can be those of a table's columns. */
    static boolean fits(RandomTable table) {
        return table.columns.stream().allMatch(c -> c.equals(c.toLowerCase()))
                && table.columns.stream().distinct().count() == table.columns.size();
    }

    void execute(String... statements) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:trino://" + server.replaceFirst(".*@", "") + "/"
                        + catalogue + "/" + schema + "?user=root");
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    private static String type(RandomTable.Type type) {
        return switch (type) {
            case INT -> "bigint";
            case DECIMAL -> "decimal(14, 4)";
            case DOUBLE -> "double";
            case TEXT -> "varchar(200)";
            case CLOB -> "varchar";
            case BYTES -> "varbinary";
            case DATE -> "date";
            case TIMESTAMP -> "timestamp(6)";
            case FLAG -> "boolean";
        };
    }

    private static String literal(Object value) {
        if (value == null) {
            return "NULL";
        } else if (value instanceof Long) {
            return "BIGINT '" + value + "'";
        } else if (value instanceof BigDecimal decimal) {
            return "DECIMAL '" + decimal.toPlainString() + "'";
        } else if (value instanceof Double) {
            return "DOUBLE '" + value + "'";
        } else if (value instanceof byte[] bytes) {
            return "X'" + HexFormat.of().formatHex(bytes) + "'";
        } else if (value instanceof LocalDate) {
            return "DATE '" + value + "'";
        } else if (value instanceof LocalDateTime) {
            return "TIMESTAMP '" + RandomTable.plain(value).replace('T', ' ') + "'";
        } else if (value instanceof Boolean) {
            return value.toString();
        }
        return "from_utf8(X'"
                + HexFormat.of().formatHex(value.toString().getBytes(java.nio.charset.StandardCharsets.UTF_8)) + "')";
    }

    void create(String name, RandomTable table, List<Object[]> rows) throws SQLException {
        String columns = IntStream.range(0, table.columns.size())
                .mapToObj(c -> quoted(table.columns.get(c)) + " " + type(table.types.get(c)))
                .collect(Collectors.joining(", "));
        List<String> statements = new ArrayList<>(List.of("CREATE TABLE " + name + " (" + columns + ")"));
        for (int from = 0; from < rows.size(); from += 100) {
            statements.add("INSERT INTO " + name + " VALUES "
                    + rows.subList(from, Math.min(rows.size(), from + 100)).stream()
                            .map(row -> IntStream.range(0, row.length)
                                    .mapToObj(c -> "CAST(" + literal(row[c]) + " AS " + type(table.types.get(c)) + ")")
                                    .collect(Collectors.joining(", ", "(", ")")))
                            .collect(Collectors.joining(", ")));
        }
        execute(statements.toArray(String[]::new));
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
