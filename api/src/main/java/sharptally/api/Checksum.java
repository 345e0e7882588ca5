package sharptally.api;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import sharptally.api.job.checksum.ChecksumJob;
import sharptally.core.place.Endpoint;
import sharptally.formats.checksum.ChecksumFile;

/** Checksums of one table before they are worked out. Used by one thread. */
public final class Checksum {
    private static final long ROWS_PER_RANGE = 100_000;

    private final SharpTally tally;
    private final Endpoint endpoint;
    private List<String> key = List.of();
    private Optional<String> where = Optional.empty();

    Checksum(SharpTally tally, Endpoint endpoint) {
        this.tally = tally;
        this.endpoint = endpoint;
    }

    /** The key columns. Default: the table's own key. */
    public Checksum key(String... columns) {
        key = List.of(columns);
        return this;
    }

    /** Only rows that meet a condition, in SQL. */
    public Checksum where(String condition) {
        where = Optional.of(condition);
        return this;
    }

    /** Writes checksums over ranges of the key to a file, to be taken to where the other side is. */
    public void write(Path file) {
        Work.done(interrupted -> {
            ChecksumFile here =
                    job(Optional.empty()).run(tally.context(), interrupted).here();
            here.write(file);
            return file;
        });
    }

    /**
     * Compares with checksums of a file.
     *
     * @return whether all ranges hold the same rows
     */
    public boolean isSame(Path file) {
        return Work.done(interrupted -> job(Optional.of(ChecksumFile.read(file)))
                .run(tally.context(), interrupted)
                .differing()
                .isEmpty());
    }

    private ChecksumJob job(Optional<ChecksumFile> against) {
        String table = endpoint.label()
                .table()
                .orElseThrow(() -> SharpTallyException.usage("checksums are of one table: name it by Database.table"));
        return new ChecksumJob(
                endpoint, table, key, List.of(), where, Optional.empty(), ROWS_PER_RANGE, against, Optional.empty());
    }
}
