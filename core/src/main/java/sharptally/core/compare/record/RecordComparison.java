package sharptally.core.compare.record;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongConsumer;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.Side;
import sharptally.core.rows.Daemons;
import sharptally.core.rows.RecordHash;

/**
 * Compares rows that come in no order: all of them are hashed, those that have an equal one on the other side by the same key
 * are passed over, and the others are read, sorted and merged as ever. So what is found is what a merge of all rows finds.
 */
public final class RecordComparison {
    static final int ROWS_PER_NEWS = 1 << 16;

    /** What the result calls it. */
    private static final String METHOD = "by records";

    private static final long SAMPLED_KEYS = 512;
    /** Of the memory that this program may have. */
    private static final int SHARE_OF_MEMORY = 6;
    /** Of rows that are found by their keys, so many may be left in any case; of more, this part. */
    private static final long FEW_LEFT = 1 << 20;

    private static final int SHARE_LEFT = 4;

    private final TableMatch match;
    private final Pair places;
    private final ComparisonContext context;
    private final HashedSide source;
    private final HashedSide target;
    private final List<String> remarks;

    private RecordComparison(
            TableMatch match,
            Pair places,
            ComparisonContext context,
            HashedSide source,
            HashedSide target,
            List<String> remarks) {
        this.match = match;
        this.places = places;
        this.context = context;
        this.source = source;
        this.target = target;
        this.remarks = remarks;
    }

    /** Of files that are written alike: records are hashed where they lie. */
    public static RecordComparison asWritten(TableMatch match, Pair places, ComparisonContext context) {
        return new RecordComparison(
                match,
                places,
                context,
                new WrittenSide(match, Side.SOURCE, places.source().records().orElseThrow(), context),
                new WrittenSide(match, Side.TARGET, places.target().records().orElseThrow(), context),
                List.of());
    }

    /**
     * Of values of any kind.
     *
     * @param inNoOrder the sides that are not read in the order of the key
     */
    public static RecordComparison ofValues(
            TableMatch match, Pair places, Set<Side> inNoOrder, ComparisonContext context) {
        List<String> remarks = Collections.synchronizedList(new ArrayList<>());
        StreamComparison stream = new StreamComparison(match, places, inNoOrder, Optional.empty(), remarks, context);
        return new RecordComparison(
                match,
                places,
                context,
                new ValueSide(match, Side.SOURCE, stream),
                new ValueSide(match, Side.TARGET, stream),
                remarks);
    }

    /**
     * Compares all rows; empty, and the sink was given nothing, where the records can't be told apart, or too many of them
     * differ, so that all rows have to be read in another way.
     */
    public Optional<RangeResult> run(FindingSink sink) {
        long memory = Runtime.getRuntime().maxMemory() / SHARE_OF_MEMORY;
        try (RecordSpill ofSource = new RecordSpill(context.temporary(), memory);
                RecordSpill ofTarget = new RecordSpill(context.temporary(), memory)) {
            RecordHash hash = new RecordHash(match.pairs().size(), new SecureRandom());
            News news = new News();
            var hashed = Daemons.both(
                    "hashing records",
                    () -> hash(source, hash, ofSource, news::ofSource),
                    () -> hash(target, hash, ofTarget, news::ofTarget));
            long rows = Math.max(ofSource.rows(), ofTarget.rows());
            boolean told = hashed.here() && hashed.there() && rows <= Integer.MAX_VALUE;
            if (!told || !ofSource.isSmall() || !ofTarget.isSmall()) {
                return Optional.empty();
            }
            RecordMatching matching = matching(ofSource, ofTarget, rows);
            if (Math.max(matching.keysOfSource().size(), matching.keysOfTarget().size())
                    > Math.max(FEW_LEFT, rows / SHARE_LEFT)) {
                return Optional.empty();
            }
            HashedSide.Left here = new HashedSide.Left(
                    matching.source(ofSource.rows()), matching.keysOfSource().sorted());
            HashedSide.Left there = new HashedSide.Left(
                    matching.target(ofTarget.rows()), matching.keysOfTarget().sorted());
            return Optional.of(merged(
                    (side, request) -> side == Side.SOURCE ? source.only(request, here) : target.only(request, there),
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
        RecordMatching matching =
                new RecordMatching(match.wholeRow(), rows, SAMPLED_KEYS, source.goesByKey(), target.goesByKey());
        for (int part = first; part < RecordSpill.PARTS; part += 2) {
            matching.match(ofSource.part(part), ofTarget.part(part));
        }
        return matching;
    }

    private boolean hash(HashedSide side, RecordHash hash, RecordSpill into, LongConsumer news) {
        boolean told = side.hash(hash, into, news);
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
        List<String> told = Collections.synchronizedList(new ArrayList<>());
        StreamComparison others = new StreamComparison(
                        match,
                        places,
                        EnumSet.allOf(Side.class),
                        Optional.empty(),
                        told,
                        context.telling((source, target) -> {}))
                .reading(reading);
        RangeResult part = others.merge(List.of(), sink);
        Counts counts = part.counts().plus(Counts.allSame(equal, match.pairs().size()));
        context.progress().rows(counts.sourceRows(), counts.targetRows());
        told.addAll(remarks);
        return new RangeResult(counts, METHOD, part.damage(), told);
    }
}
