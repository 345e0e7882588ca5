package sharptally.spark.lake;

import java.util.Optional;
import org.apache.spark.sql.SparkSession;
import sharptally.core.place.Engine;
import sharptally.core.place.Place;
import sharptally.core.place.PlaceAccess;
import sharptally.core.place.part.Changes;
import sharptally.engines.lake.LakeEngine;

/** Tables that the cluster of this driver reads: by path and format, or by their names in its catalogues. */
public final class SparkTables implements Engine {
    private static final long MAX_COLUMNS = 100_000;
    private static final long ROWS_PER_BATCH = 1_024;

    @Override
    public String name() {
        return LakeEngine.NAME;
    }

    /**
     * The session of this driver, begun where there is none. Tables of thousands of columns are read by columns as well, in batches
     * that are no larger for it than those of others.
     */
    public static SparkSession session() {
        return SparkSession.builder()
                .appName("sharp-tally")
                .config("spark.sql.codegen.maxFields", MAX_COLUMNS)
                .config("spark.sql.parquet.columnarReaderBatchSize", ROWS_PER_BATCH)
                .config("spark.sql.orc.columnarReaderBatchSize", ROWS_PER_BATCH)
                .getOrCreate();
    }

    @Override
    public Place open(PlaceAccess access) {
        SparkSession session = session();
        String where = access.address().location();
        LakeTables tables = where.contains("/")
                ? FolderTables.of(session, where, access.properties())
                : new CatalogueTables(session, where);
        return new LakePlace(session, access.label(), tables);
    }

    @Override
    public Optional<Changes> changes() {
        return Optional.empty();
    }
}
