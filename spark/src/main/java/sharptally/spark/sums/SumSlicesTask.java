package sharptally.spark.sums;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.OptionalLong;
import org.apache.spark.api.java.function.FlatMapFunction;
import sharptally.core.match.ColumnPair;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.core.place.Side;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.shape.ColumnShape;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;
import sharptally.spark.send.SentSlices;
import sharptally.spark.work.SentMatch;

/** Checksums of slices of the key in the common form, which a database works out by itself. */
public record SumSlicesTask(SentMatch sent, Side side, SentPlace place, int slices)
        implements FlatMapFunction<Iterator<String>, byte[]> {
    @Override
    public Iterator<byte[]> call(Iterator<String> elements) {
        SumsRequest request = request(sent.read(), side);
        SliceSums sums = new SliceSums(slices);
        try (Place opened = place.open()) {
            while (elements.hasNext()) {
                SentSlices some = Sent.slices(elements.next());
                List<KeyRange> ranges = some.ranges();
                opened.checksums()
                        .orElseThrow()
                        .sums(request.over(ranges, OptionalLong.empty()))
                        .forEach((number, sum) -> sums.add(some.first() + number.intValue(), sum));
            }
        }
        return new ArrayList<>(List.of(sums.bytes())).iterator();
    }

    /** What is summed of a side, over no range yet. */
    public static SumsRequest request(TableMatch match, Side side) {
        List<SumsRequest.Hashed> columns = match.pairs().stream()
                .map(p -> new SumsRequest.Hashed(of(p, side), p.comparedAs(), p.digits()))
                .toList();
        List<ColumnShape> key = match.keyPairs().stream().map(p -> of(p, side)).toList();
        return new SumsRequest(
                side == Side.SOURCE ? match.source() : match.target(),
                columns,
                key,
                List.of(),
                OptionalLong.empty(),
                SumsRequest.Form.COMMON);
    }

    private static ColumnShape of(ColumnPair pair, Side side) {
        return side == Side.SOURCE ? pair.source() : pair.target();
    }
}
