import org.apache.spark.sql.SparkSession;

/** Writes a table of Parquet in other formats, by Spark itself. */
public final class Convert {
    private Convert() {}

    /** The table, and the formats that are wanted; each goes to a folder beside it. */
    public static void main(String[] args) {
        SparkSession session = SparkSession.builder().master("local[1]").config("spark.ui.enabled", false).getOrCreate();
        var rows = session.read().parquet(args[0]);
        for (int i = 1; i < args.length; i++) {
            var writer = rows.repartition(2).write().format(args[i]);
            if (args[i].equals("csv")) {
                // As most write it: quotes within quotes are doubled, and nothing at all is NULL.
                writer = writer.option("header", true).option("escape", "\"").option("emptyValue", "\"\"");
            }
            writer.save(args[0] + "." + args[i]);
        }
        session.stop();
    }
}
