package sharptally.engines.jdbc.sums;

import java.util.Map;
import java.util.Optional;
import sharptally.core.place.part.Checksums;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.RangeSeek;
import sharptally.core.place.part.Sampling;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.RangeSum;
import sharptally.core.shape.RowFilter;
import sharptally.engines.jdbc.PlaceSession;

/** Checksums by a database's own functions, and samples by the same hash. Used by one thread, but for {@link #cancel}. */
public final class JdbcChecksums implements Checksums, Sampling {
    private final PlaceSession session;
    private final Hashing hashing;
    private final RangeSeek seeking;
    private final SumReading reading;
    private Optional<String> ownForm = Optional.empty();

    public JdbcChecksums(PlaceSession session, Hashing hashing, RangeSeek seeking) {
        this.session = session;
        this.hashing = hashing;
        this.seeking = seeking;
        this.reading = new SumReading(session.selects(), hashing, session.address());
    }

    @Override
    public Optional<String> ownForm() {
        if (ownForm.isEmpty()) {
            ownForm = hashing.ownForm().map(sql -> session.asked(sql, "can't ask for the hash functions"));
        }
        return ownForm;
    }

    @Override
    public Optional<Obstacle> problem(SumsRequest request) {
        return request.form() == SumsRequest.Form.OWN
                ? hashing.ownProblem(request.columns())
                : hashing.commonProblem(request.columns());
    }

    @Override
    public Map<Long, RangeSum> sums(SumsRequest request) {
        boolean sought = seeking.seek(request.table(), request.key()) == Seek.BY_INDEX;
        Map<Long, RangeSum> sums = reading.read(session.connection().get(), request, sought);
        session.statementDone().run();
        return sums;
    }

    @Override
    public void cancel() {
        reading.cancel();
    }

    @Override
    public boolean chooses(RowFilter.Sample sample) {
        return !sample.key().isEmpty()
                && hashing.commonProblem(SumsRequest.Hashed.of(sample)).isEmpty();
    }
}
