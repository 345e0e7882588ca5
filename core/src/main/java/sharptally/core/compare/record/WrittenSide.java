package sharptally.core.compare.record;

import java.util.List;
import java.util.function.LongConsumer;
import java.util.stream.IntStream;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Records;
import sharptally.core.rows.RecordHash;
import sharptally.core.rows.RowSource;

/** Hashed where they lie, by the bytes of their fields. */
record WrittenSide(TableMatch match, Side side, Records records, ComparisonContext context) implements HashedSide {
    @Override
    public boolean hash(RecordHash hash, RecordSpill into, LongConsumer news) {
        boolean ofSource = side == Side.SOURCE;
        List<String> columns = match.pairs().stream()
                .map(p -> ofSource ? p.source().name() : p.target().name())
                .toList();
        List<Integer> key =
                match.wholeRow() ? IntStream.range(0, columns.size()).boxed().toList() : match.key();
        Records.Taking taking = new Records.Taking() {
            @Override
            public void take(long ofKey, long ofRow) {
                into.take(ofKey, ofRow);
                tell();
            }

            @Override
            public void takeWithoutKey() {
                into.takeWithoutKey();
                tell();
            }

            private void tell() {
                if (into.rows() % RecordComparison.ROWS_PER_NEWS == 0) {
                    news.accept(into.rows());
                }
            }
        };
        return records.hash(
                ofSource ? match.source() : match.target(),
                new Records.Hashing(hash, columns, key, match.wholeRow()),
                context.stopAsked(),
                taking);
    }

    @Override
    public boolean goesByKey() {
        return false;
    }

    @Override
    public RowSource only(ReadRequest request, Left left) {
        return records.only(request, left.rows());
    }
}
