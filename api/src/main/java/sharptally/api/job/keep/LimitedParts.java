package sharptally.api.job.keep;

import java.util.List;
import java.util.Optional;
import sharptally.core.compare.PartKeeper;
import sharptally.core.compare.RangeResult;
import sharptally.core.range.KeyRange;

/** Keeps parts like another keeper, with their findings counted against a limit. */
public record LimitedParts(PartKeeper keeper, Limits limits) implements PartKeeper {
    @Override
    public Optional<List<KeyRange>> ranges() {
        return keeper.ranges();
    }

    @Override
    public void cut(List<KeyRange> ranges) {
        keeper.cut(ranges);
    }

    @Override
    public Optional<RangeResult> finished(int range) {
        return keeper.finished(range);
    }

    @Override
    public Sink open(int range) {
        return limits.counted(keeper.open(range));
    }

    @Override
    public void finish(int range, RangeResult part) {
        keeper.finish(range, part);
    }

    @Override
    public void restart() {
        keeper.restart();
    }
}
