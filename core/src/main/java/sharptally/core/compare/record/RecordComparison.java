package sharptally.core.compare.record;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.function.LongConsumer;
import java.util.stream.IntStream;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.place.part.RecordHash;
import sharptally.core.place.part.Records;
import sharptally.core.rows.Daemons;
import sharptally.core.shape.TableShape;

/**
 * Compares rows that lie in files: all records are hashed where they lie, those that have an equal one on the other side by the
 * same key are passed over, and the others are read, sorted and merged as ever. So what is found is what a merge of all rows
 * finds.
 */
public record RecordComparison(TableMatch match, Pair places, ComparisonContext context) {
    /** What the result calls it. */
    private static final String METHOD = "by records";

    private static final int ROWS_PER_NEWS = 1 << 16;
    private static final long SAMPLED_KEYS = 512;
    /** Of the memory that this program may have. */
    private static final int SHARE_OF_MEMORY = 6;

    /**
     * Compares all rows; empty, and the sink was given nothing, where the records can't be told apart so that the rows have to
     * be read.
     */
    public Optional<RangeResult> run(FindingSink sink) {
        long memory = Runtime.getRuntime().maxMemory() / SHARE_OF_MEMORY;
        try (RecordSpill ofSource = new RecordSpill(context.temporary(), memory);
                RecordSpill ofTarget = new RecordSpill(context.temporary(), memory)) {
            Records source = places.source().records().orElseThrow();
            Records target = places.target().records().orElseThrow();
            RecordHash hash = new RecordHash(match.pairs().size(), new SecureRandom());
            News news = new News();
            var hashed = Daemons.both(
                    "hashing records",
                    () -> hash(source, Side.SOURCE, hash, ofSource, news::ofSource),
                    () -> hash(target, Side.TARGET, hash, ofTarget, news::ofTarget));
            long rows = Math.max(ofSource.rows(), ofTarget.rows());
            boolean told = hashed.here() && hashed.there() && rows <= Integer.MAX_VALUE;
            if (!told || !ofSource.isSmall() || !ofTarget.isSmall()) {
                return Optional.empty();
            }
            RecordMatching matching = matching(ofSource, ofTarget, rows);
            BitSet ofOneSide = matching.source(ofSource.rows());
            BitSet ofOther = matching.target(ofTarget.rows());
            return Optional.of(merged(
                    (side, request) ->
                            side == Side.SOURCE ? source.only(request, ofOneSide) : target.only(request, ofOther),
                    matching.equal(),
                    sink));
        }
    }

    private RecordMatching matching(RecordSpill ofSource, RecordSpill ofTarget, long rows) {
        var halves = Daemons.both(
                "matching records",
                () -> matching(ofSource, ofTarget, rows, 0),
                () -> matching(ofSource, ofTarget, rows, 1));
        return halves.here().and(halves.there());
    }

    /** Of every second part. */
    private RecordMatching matching(RecordSpill ofSource, RecordSpill ofTarget, long rows, int first) {
        RecordMatching matching = new RecordMatching(match.wholeRow(), rows, SAMPLED_KEYS);
        for (int part = first; part < RecordSpill.PARTS; part += 2) {
            matching.match(ofSource.part(part), ofTarget.part(part));
        }
        return matching;
    }

    private boolean hash(Records records, Side side, RecordHash hash, RecordSpill into, LongConsumer news) {
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
                if (into.rows() % ROWS_PER_NEWS == 0) {
                    news.accept(into.rows());
                }
            }
        };
        TableShape table = ofSource ? match.source() : match.target();
        boolean told = records.hash(
                table, new Records.Hashing(hash, columns, key, match.wholeRow()), context.stopAsked(), taking);
        if (context.stopAsked().getAsBoolean()) {
            throw StreamComparison.stopped(match);
        }
        return told;
    }

    /** How far both sides are. */
    private final class News {
        private long source;
        private long target;

        synchronized void ofSource(long rows) {
            source = rows;
            context.progress().rows(source, target);
        }

        synchronized void ofTarget(long rows) {
            target = rows;
            context.progress().rows(source, target);
        }
    }

    private RangeResult merged(StreamComparison.Reading reading, long equal, FindingSink sink) {
        List<String> remarks = Collections.synchronizedList(new ArrayList<>());
        StreamComparison others = new StreamComparison(
                        match,
                        places,
                        EnumSet.allOf(Side.class),
                        Optional.empty(),
                        remarks,
                        context.telling((source, target) -> {}))
                .reading(reading);
        RangeResult part = others.merge(List.of(), sink);
        Counts counts = part.counts().plus(Counts.allSame(equal, match.pairs().size()));
        context.progress().rows(counts.sourceRows(), counts.targetRows());
        return new RangeResult(counts, METHOD, part.damage(), remarks);
    }
}
