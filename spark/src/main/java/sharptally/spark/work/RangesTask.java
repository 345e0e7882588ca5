package sharptally.spark.work;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.Optional;
import org.apache.spark.api.java.function.FlatMapFunction;
import sharptally.core.compare.Method;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.run.RangeRunner;
import sharptally.core.compare.run.RangeTask;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Place;
import sharptally.formats.run.FindingsOut;
import sharptally.spark.rows.TaskEnd;
import sharptally.spark.send.Sent;
import sharptally.spark.send.SentPlace;
import sharptally.spark.send.SentRange;

/** Compares ranges of a match, one after another, over connections of the executor's own. */
public record RangesTask(SentMatch sent, SentPlace source, SentPlace target, String method)
        implements FlatMapFunction<Iterator<String>, byte[]> {
    @Override
    public Iterator<byte[]> call(Iterator<String> ranges) {
        Place from = source.open();
        TaskEnd.run(from::close);
        Place to = target.open();
        TaskEnd.run(to::close);
        TableMatch match = sent.read();
        RangeRunner runner = new RangeRunner(new Pair(from, to), SentMatch.here());
        return new Iterator<>() {
            private Optional<Iterator<byte[]>> now = Optional.empty();

            @Override
            public boolean hasNext() {
                return now.filter(Iterator::hasNext).isPresent() || ranges.hasNext();
            }

            @Override
            public byte[] next() {
                if (now.filter(Iterator::hasNext).isEmpty()) {
                    SentRange range = Sent.range(ranges.next());
                    now = Optional.of(compared(
                            runner,
                            new RangeTask(
                                    match,
                                    range.number(),
                                    range.range(),
                                    range.rows(),
                                    Method.valueOf(method),
                                    Optional.empty())));
                }
                return now.get().next();
            }
        };
    }

    private static Iterator<byte[]> compared(RangeRunner runner, RangeTask task) {
        try {
            Path file = Files.createTempFile(SentMatch.temporary(), "sharp-tally-findings-", ".jsonl");
            TaskEnd.run(() -> file.toFile().delete());
            RangeResult result;
            try (FindingsOut out = FindingsOut.scratch(file, task.match())) {
                result = runner.run(task, out);
            }
            return new MergeTask.Chunks(file, result);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
