package sharptally.core.compare.checksum;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeSet;
import java.util.stream.LongStream;
import sharptally.core.compare.ComparisonContext;
import sharptally.core.compare.Pair;
import sharptally.core.compare.checksum.Sliced.Slice;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Value;

/** Cuts ranges of the key into slices, and asks both sides for the sums of each. */
final class Slicing {
    /** About how many rows a slice holds. */
    static final long ROWS_PER_SLICE = 1_024;

    /** How many fine slices there are in one. */
    static final long FINE_SLICES = 32;

    /** So many are asked for at once. */
    static final int RANGES_PER_QUERY = 200;

    /** Above this share of differing slices, reading all costs less than asking again. */
    static final double MOST = 0.5;
    /** How many slices, spread over a range, tell beforehand whether most differ. */
    private static final int PROBES = 16;
    /** Ranges of fewer slices are not probed. */
    private static final int PROBED = 4 * PROBES;

    private final TableMatch match;
    private final Pair places;
    private final ComparisonContext context;
    private final SumsRequest ofSource;
    private final SumsRequest ofTarget;
    private final boolean wholeNumber;
    private final boolean seeks;
    private final long maxSlices;
    private final SliceBounds bounds;

    Slicing(TableMatch match, Pair places, SliceBounds bounds, ComparisonContext context) {
        this.match = match;
        this.bounds = bounds;
        this.places = places;
        this.context = context;
        Eligibility eligibility = new Eligibility(match, places.source(), places.target());
        ofSource = eligibility.request(Side.SOURCE, eligibility.form());
        ofTarget = eligibility.request(Side.TARGET, eligibility.form());
        wholeNumber = eligibility.isWholeNumber();
        seeks = eligibility.seek() == Seek.BY_INDEX;
        maxSlices = seeks ? Long.MAX_VALUE : 512;
    }

    /** Whether the key is one whole number, so that slices are told by a division. */
    boolean isByNumber() {
        return wholeNumber;
    }

    SumsRequest.Form form() {
        return ofSource.form();
    }

    List<Slice> sums(List<KeyRange> ranges) {
        if (!seeks) {
            return byBounds(ranges);
        }
        List<Slice> all = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i += RANGES_PER_QUERY) {
            all.addAll(byBounds(ranges.subList(i, Math.min(ranges.size(), i + RANGES_PER_QUERY))));
        }
        return all;
    }

    private static boolean mostDiffer(List<Slice> slices) {
        return slices.stream().filter(s -> !s.isSame()).count() > MOST * slices.size();
    }

    /** Whether most of some slices that lie all over the range differ. */
    boolean probesDiffer(KeyRange range, long rows) {
        if (!wholeNumber || !seeks || rows < PROBED * ROWS_PER_SLICE) {
            return false;
        }
        List<Value> from = range.from();
        List<Value> to = range.to();
        if (from.isEmpty() || to.isEmpty()) {
            if (match.source().query().isPresent() || !match.source().filters().isEmpty()) {
                // The ends would have to be looked for.
                return false;
            }
            List<List<Value>> ends = places.source().seeking().orElseThrow().ends(keys(range));
            if (ends.size() != 2) {
                return false;
            }
            from = from.isEmpty() ? ends.get(0) : from;
            to = to.isEmpty() ? ends.get(1) : to;
        }
        if (!(from.get(0) instanceof Value.Int) || !(to.get(0) instanceof Value.Int)) {
            return false;
        }
        long step = step(new KeyRange(from, to), rows);
        double apart = ((double) number(to) - number(from)) / PROBES;
        if (apart < step) {
            return false;
        }
        List<KeyRange> probes = new ArrayList<>();
        for (int i = 0; i < PROBES; i++) {
            long first = number(from) + (long) (i * apart);
            probes.add(new KeyRange(List.of(new Value.Int(first)), List.of(new Value.Int(first + step))));
        }
        return mostDiffer(byBounds(probes));
    }

    /** A range cut into such of so many rows. */
    List<KeyRange> cut(KeyRange range, long rows) {
        return range.cutAt(places.source().seeking().orElseThrow().bounds(keys(range), rows));
    }

    private ReadRequest keys(KeyRange range) {
        return new ReadRequest(match.source(), ofSource.key(), ofSource.key())
                .within(range.holdsAll() ? List.of() : List.of(range));
    }

    /** Neighbours are read as one range. */
    static List<Slice> joined(List<Slice> slices) {
        List<Slice> out = new ArrayList<>();
        for (Slice slice : slices) {
            int last = out.size() - 1;
            boolean follows = last >= 0
                    && !slice.keys().from().isEmpty()
                    && out.get(last).keys().to().equals(slice.keys().from());
            if (follows) {
                out.set(last, out.get(last).plus(slice));
            } else {
                out.add(slice);
            }
        }
        return out;
    }

    List<Slice> refined(List<Slice> slices, long step) {
        List<KeyRange> ranges = joined(slices).stream().map(Slice::keys).toList();
        List<Slice> out = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i += RANGES_PER_QUERY) {
            out.addAll(byStep(ranges.subList(i, Math.min(ranges.size(), i + RANGES_PER_QUERY)), step));
        }
        return out;
    }

    Pair.Answers<Map<Long, RangeSum>> ask(List<KeyRange> ranges, OptionalLong step) {
        var answers = places.sums(ofSource.over(ranges, step), ofTarget.over(ranges, step), context.stopAsked());
        context.limit()
                .await(answers.source().values().stream()
                                .mapToLong(RangeSum::rows)
                                .sum()
                        + answers.target().values().stream()
                                .mapToLong(RangeSum::rows)
                                .sum());
        return answers;
    }

    /**
     * How many numbers a slice should span to hold {@link #ROWS_PER_SLICE} rows. A multiple of the number of fine slices
     * in it, so that none of them lies in two slices.
     */
    static long step(KeyRange range, long rows) {
        double perSlice = ROWS_PER_SLICE;
        if (!range.from().isEmpty() && !range.to().isEmpty() && rows > 0) {
            perSlice = ROWS_PER_SLICE * (number(range.to()) - (double) number(range.from())) / rows;
        }
        return FINE_SLICES * (long) Math.max(1, Math.min(perSlice / FINE_SLICES, 1L << 52));
    }

    static long number(List<Value> key) {
        return key.get(0) instanceof Value.Int number
                ? number.value()
                : ((Value.Decimal) key.get(0)).value().longValue();
    }

    List<Slice> byStep(List<KeyRange> ranges, long step) {
        var answers = ask(ranges, OptionalLong.of(step));
        TreeSet<Long> numbers = new TreeSet<>(answers.source().keySet());
        numbers.addAll(answers.target().keySet());
        List<Slice> slices = new ArrayList<>();
        int place = 0;
        for (long number : numbers) {
            RangeSum source = answers.source().getOrDefault(number, RangeSum.NOTHING);
            RangeSum target = answers.target().getOrDefault(number, RangeSum.NOTHING);
            KeyRange keys = keysOf(number, step);
            while (place < ranges.size() - 1 && endsBefore(ranges.get(place), keys)) {
                place++;
            }
            KeyRange range = ranges.get(place);
            slices.add(new Slice(
                    new KeyRange(later(keys.from(), range.from()), earlier(keys.to(), range.to())), source, target));
        }
        return slices;
    }

    private static boolean endsBefore(KeyRange range, KeyRange keys) {
        return !range.to().isEmpty()
                && !keys.from().isEmpty()
                && KeyOrder.ASCENDING.compare(range.to(), keys.from()) <= 0;
    }

    private static List<Value> later(List<Value> one, List<Value> other) {
        return one.isEmpty() || !other.isEmpty() && KeyOrder.ASCENDING.compare(other, one) > 0 ? other : one;
    }

    private static List<Value> earlier(List<Value> one, List<Value> other) {
        return one.isEmpty() || !other.isEmpty() && KeyOrder.ASCENDING.compare(other, one) < 0 ? other : one;
    }

    /** The keys of which the quotient by the step, cut towards zero, is the number. */
    private static KeyRange keysOf(long number, long step) {
        BigInteger first = BigInteger.valueOf(number).multiply(BigInteger.valueOf(step));
        BigInteger width = BigInteger.valueOf(step);
        BigInteger from = number > 0 ? first : first.subtract(width).add(BigInteger.ONE);
        BigInteger to = number >= 0 ? first.add(width) : first.add(BigInteger.ONE);
        return new KeyRange(List.of(whole(from)), List.of(whole(to)));
    }

    private static Value whole(BigInteger number) {
        return number.bitLength() < Long.SIZE
                ? new Value.Int(number.longValue())
                : new Value.Decimal(new BigDecimal(number));
    }

    /**
     * Slices with bounds from the data.
     *
     * @param mayStop whether there are none where the first few tell that most differ
     */
    Optional<List<Slice>> byBounds(KeyRange range, long rows, boolean mayStop) {
        long perSlice = Math.max(ROWS_PER_SLICE, rows / maxSlices + 1);
        List<KeyRange> ranges = bounds.keys().isEmpty()
                ? range.cutAt(places.source().seeking().orElseThrow().roughBounds(keys(range), perSlice))
                : bounds.slices(range);
        if (!seeks) {
            // All ranges are summed in one pass.
            return Optional.of(byBounds(ranges));
        }
        List<Slice> slices = new ArrayList<>();
        for (int i = 0; i < ranges.size(); ) {
            int end = Math.min(ranges.size(), i + (i == 0 ? PROBES : RANGES_PER_QUERY));
            slices.addAll(byBounds(ranges.subList(i, end)));
            if (i == 0 && mayStop && end < ranges.size() && mostDiffer(slices)) {
                return Optional.empty();
            }
            i = end;
        }
        return Optional.of(slices);
    }

    private List<Slice> byBounds(List<KeyRange> ranges) {
        var answers = ask(ranges, OptionalLong.empty());
        return LongStream.range(0, ranges.size())
                .mapToObj(n -> new Slice(
                        ranges.get((int) n),
                        answers.source().getOrDefault(n, RangeSum.NOTHING),
                        answers.target().getOrDefault(n, RangeSum.NOTHING)))
                .toList();
    }
}
