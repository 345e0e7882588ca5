package sharptally.core.compare.run;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Method;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Known;
import sharptally.core.compare.checksum.SelfCheck;
import sharptally.core.compare.checksum.SliceBounds;
import sharptally.core.compare.checksum.SumComparison;
import sharptally.core.compare.join.JoinComparison;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.finding.FindingSink;
import sharptally.core.place.Side;
import sharptally.core.place.part.Joins;

/**
 * Compares key ranges, one after another, over one connection per side. Used by one thread.
 *
 * <p>What a method can't bear is read instead, and the result's remarks say so: the findings are those of
 * {@link Method#STREAM}, whatever the method.
 */
public final class RangeRunner {
    private final Pair places;
    private final SelfCheck selfCheck;
    private final Optional<Known> known;
    private final SliceBounds bounds;
    private final ComparisonContext context;
    private boolean readInstead;

    /**
     * @param selfCheck which slices are looked at again, for all runners of a match together
     * @param known what an earlier comparison found
     * @param bounds at which ranges are cut into slices
     */
    RangeRunner(
            Pair places, SelfCheck selfCheck, Optional<Known> known, SliceBounds bounds, ComparisonContext context) {
        this.bounds = bounds;
        this.known = known;
        this.places = places;
        this.selfCheck = selfCheck;
        this.context = context;
    }

    public RangeRunner(Pair places, ComparisonContext context) {
        this(places, new SelfCheck(new Random()), Optional.empty(), SliceBounds.UNKNOWN, context);
    }

    /**
     * @param sink gets the findings of the range, in key order
     * @throws ToolException when a side can't be read to its end, or a stop was asked for; what the sink has been given
     *     by then proves nothing
     * @throws sharptally.core.compare.stream.OutOfOrder when a side does not deliver the key in our order, so that no
     *     range of it can be compared by itself
     */
    public RangeResult run(RangeTask task, FindingSink sink) {
        List<String> remarks = Collections.synchronizedList(new ArrayList<>());
        RangeResult result = run(task, sink, remarks);
        Set<String> all = new LinkedHashSet<>(result.remarks());
        all.addAll(remarks);
        return new RangeResult(result.counts(), result.method(), result.damage(), List.copyOf(all), result.sliced());
    }

    /** Whether the method of some task failed, so that another one would probably do better. */
    boolean hasReadInstead() {
        return readInstead;
    }

    private RangeResult run(RangeTask task, FindingSink sink, List<String> remarks) {
        StreamComparison stream = stream(task, remarks);
        try {
            if (task.method() == Method.CHECKSUM) {
                return new SumComparison(task.match(), places, stream, selfCheck, known, bounds)
                        .compare(task.range(), task.rows(), sink);
            }
            if (task.method() == Method.JOINED) {
                return joined(task, places.source().joins().orElseThrow(), stream, sink);
            }
        } catch (ToolException e) {
            if (e.kind() != ErrorKind.READ) {
                throw e;
            }
            remarks.add(insteadOf(task.method(), e));
            readInstead = true;
            sink.restart();
        } catch (JoinComparison.MovedOn e) {
            remarks.add(MOVED_ON);
            sink.restart();
        }
        return stream.merge(task.ranges(), sink);
    }

    /**
     * By a join alone, over the connection of one side, so that the other one may do as much at the same time.
     *
     * @throws ToolException of kind {@code READ} when the server can't join these rows
     * @throws JoinComparison.MovedOn when they changed meanwhile
     */
    RangeResult join(RangeTask task, Joins joins, FindingSink sink) {
        return joined(task, joins, stream(task, new ArrayList<>()), sink);
    }

    private RangeResult joined(RangeTask task, Joins joins, StreamComparison stream, FindingSink sink) {
        context.limit().await(2 * task.rows());
        return JoinComparison.compare(
                task.match(), JoinComparison.request(task.match(), joins, places, task.range()), joins, stream, sink);
    }

    private StreamComparison stream(RangeTask task, List<String> remarks) {
        return new StreamComparison(task.match(), places, EnumSet.noneOf(Side.class), task.sample(), remarks, context);
    }

    static final String MOVED_ON = "rows changed while they were joined, or a key is repeated: they were read instead";

    /** Such as after a value beyond what an expression of ours can bear; reading can bear it. */
    static String insteadOf(Method method, ToolException failure) {
        return "method " + method + " failed and rows were read instead: " + failure.getMessage();
    }
}
