package sharptally.spark.rows;

import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.range.KeyRange;
import sharptally.core.rows.RowBatch;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;

/**
 * Rows of a place that is opened by the executor, for each element the rows in some ranges of the key, over one connection.
 *
 * @param match as text
 */
public record PlaceRowsOf(SentPlace place, String match, Side side) implements RowsOf<String> {
    @Override
    public RowSource rows(Iterator<String> elements) {
        return new Rows(elements, Sent.match(match));
    }

    /** What is read of a side. */
    public static ReadRequest request(TableMatch match, Side side) {
        List<ColumnShape> key = match.keyPairs().stream()
                .map(p -> side == Side.SOURCE ? p.source() : p.target())
                .toList();
        return new ReadRequest(side == Side.SOURCE ? match.source() : match.target(), match.readColumns(side), key);
    }

    private final class Rows implements RowSource {
        private final Iterator<String> elements;
        private final ReadRequest all;
        private Optional<Place> opened = Optional.empty();
        private Optional<RowSource> rows = Optional.empty();

        Rows(Iterator<String> elements, TableMatch match) {
            this.elements = elements;
            this.all = request(match, side);
        }

        @Override
        public Optional<RowBatch> next() {
            while (true) {
                if (rows.isPresent()) {
                    Optional<RowBatch> batch = rows.get().next();
                    if (batch.isPresent()) {
                        return batch;
                    }
                    rows.get().close();
                    rows = Optional.empty();
                }
                if (!elements.hasNext()) {
                    return Optional.empty();
                }
                List<KeyRange> ranges = Sent.ranges(elements.next());
                opened = opened.or(() -> Optional.of(place.open()));
                // In no order, where no range is asked for.
                ReadRequest request =
                        ranges.isEmpty() ? new ReadRequest(all.table(), all.columns(), List.of()) : all.within(ranges);
                rows = Optional.of(opened.get().read(request));
            }
        }

        @Override
        public void close() {
            rows.ifPresent(RowSource::close);
            opened.ifPresent(Place::close);
        }
    }
}
