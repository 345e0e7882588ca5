package sharptally.spark.lake;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.shape.TableName;

/** Tables of the cluster's catalogues: {@code catalog.schema.table}, or all tables of {@code catalog.schema}. */
final class CatalogueTables implements LakeTables {
    private final SparkSession session;
    private final String where;
    private final Optional<String> table;

    CatalogueTables(SparkSession session, String where) {
        this.session = session;
        boolean one = session.catalog().tableExists(quoted(where));
        if (!one && !isSchema(session, where)) {
            throw new ToolException(
                    ErrorKind.READ,
                    "the cluster knows no table and no schema of this name",
                    "spark:" + where,
                    "name it as catalog.schema.table, or by its path");
        }
        int dot = where.lastIndexOf('.');
        this.where = one && dot >= 0 ? where.substring(0, dot) : one ? "" : where;
        this.table = one ? Optional.of(where.substring(dot + 1)) : Optional.empty();
    }

    private static boolean isSchema(SparkSession session, String name) {
        try {
            return session.catalog().databaseExists(quoted(name));
        } catch (RuntimeException e) {
            return false;
        }
    }

    /** As it stands in SQL. */
    static String quoted(String name) {
        List<String> parts = new ArrayList<>();
        for (String part : name.split("\\.")) {
            parts.add("`" + part.replace("`", "``") + "`");
        }
        return String.join(".", parts);
    }

    @Override
    public List<TableName> tables() {
        if (table.isPresent()) {
            return List.of(TableName.of(table.get()));
        }
        Row[] rows = (Row[]) session.sql("SHOW TABLES IN " + quoted(where))
                .where("NOT isTemporary")
                .collect();
        return Arrays.stream(rows)
                .map(row -> TableName.of(row.<String>getAs("tableName")))
                .sorted(java.util.Comparator.comparing(TableName::toString))
                .toList();
    }

    @Override
    public Optional<TableName> sole() {
        return table.map(TableName::of);
    }

    @Override
    public String schema() {
        return where;
    }

    @Override
    public Dataset<Row> rows(TableName name) {
        String full = where.isEmpty() ? name.name() : where + "." + name.name();
        return session.table(quoted(full));
    }

    @Override
    public boolean isWritten() {
        return false;
    }
}
