import java.util.ArrayList;
import java.util.List;
import org.apache.spark.sql.Column;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.functions;

/** What an engineer would write by hand: a full outer join by the key, null-safe comparison of all columns, and the rows that differ written out. */
public final class Join {
    private Join() {}

    /** Paths of both sides, key, and folder for the rows that differ. */
    public static void main(String[] args) {
        SparkSession session = SparkSession.builder().appName("join").getOrCreate();
        Dataset<Row> source = (args[0].endsWith(".csv")
                        ? session.read()
                                .option("header", "true")
                                .schema("id BIGINT, station_id INT, taken_at TIMESTAMP_NTZ, level_m DECIMAL(8,3), "
                                        + "pressure DOUBLE, quality SMALLINT, remark STRING")
                                .csv(args[0])
                        : session.read().parquet(args[0]))
                .alias("s");
        Dataset<Row> target = args[1].startsWith("jdbc:")
                ? session.read()
                        .format("jdbc")
                        .option("url", args[1])
                        .option("dbtable", args[4])
                        .option("partitionColumn", args[2])
                        .option("lowerBound", "1")
                        .option("upperBound", args[5])
                        .option("numPartitions", "8")
                        .option("preferTimestampNTZ", "true")
                        .option("fetchsize", "10000")
                        .load()
                        .alias("t")
                : session.read().parquet(args[1]).alias("t");
        List<Column> shown = new ArrayList<>();
        Column differs = functions.col("s." + args[2]).isNull().or(functions.col("t." + args[2]).isNull());
        for (String name : source.columns()) {
            Column one = functions.col("s." + name);
            Column other = functions.col("t." + name);
            differs = differs.or(functions.not(one.eqNullSafe(other)));
            shown.add(one.as("source_" + name));
            shown.add(other.as("target_" + name));
        }
        source.join(target, functions.col("s." + args[2]).equalTo(functions.col("t." + args[2])), "full_outer")
                .where(differs)
                .select(shown.toArray(new Column[0]))
                .write()
                .mode("overwrite")
                .parquet(args[3]);
        System.out.println(session.read().parquet(args[3]).count() + " rows differ");
        session.stop();
    }
}
