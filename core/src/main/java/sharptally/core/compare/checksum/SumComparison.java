package sharptally.core.compare.checksum;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.TreeSet;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Seek;
import sharptally.core.place.part.SumsRequest;
import sharptally.core.range.DifferenceHistogram;
import sharptally.core.range.KeyRange;
import sharptally.core.range.RangeSum;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Value;

/**
 * Compares a range of a match by checksums: both sides sum the hashes of their rows over slices of the key, at once and
 * in one pass; slices with another sum or another number of rows are cut further where the key is a whole number, and
 * what still differs is read and merged.
 *
 * <p>Invariant: a row is passed over unread only in a slice in which both sides have the same number of rows and the
 * same sum of 64-bit hashes, and no row without one. Failure odds: a slice that differs is passed over with a chance of
 * 2^-64, as long as hashes behave as they should; {@link SelfCheck} looks whether they do.
 */
public final class SumComparison {
    private static final long NLICE = 1_024;
    private static final long FINE_SLICES = 32;
    private static final int RANGES_PER_QUERY = 200;
    /** Above this share of differing slices, reading all costs less than asking again. */
    private static final double MOST = 0.5;

    /** One slice: which keys, and what both sides hold there. */
    private record Slice(KeyRange keys, RangeSum source, RangeSum target) {
        boolean isSame() {
            return source.proves(target);
        }
    }

    private final TableMatch match;
    private final Pair places;
    private final StreamComparison stretch;
    private final SumsRequest ofSource;
    private final SumsRequest ofTarget;
    private final boolean wholeNumber;
    private final boolean seeks;
    private final long maxSlices;
    private final SelfCheck selfCheck;

    public SumComparison(TableMatch match, Pair places, StreamComparison stretch, SelfCheck selfCheck) {
        this.selfCheck = selfCheck;
        this.match = match;
        this.places = places;
        this.stretch = stretch;
        Eligibility eligibility = new Eligibility(match, places.source(), places.target());
        ofSource = eligibility.request(Side.SOURCE, eligibility.form());
        ofTarget = eligibility.request(Side.TARGET, eligibility.form());
        wholeNumber = eligibility.isWholeNumber();
        seeks = eligibility.seek() == Seek.BY_INDEX;
        maxSlices = seeks ? Long.MAX_VALUE : 512;
    }

    /**
     * @param rows about how many there are in the range
     */
    public RangeResult compare(KeyRange range, long rows, FindingSink sink) {
        List<Slice> slices = wholeNumber ? byStep(List.of(range), step(range, rows)) : byBounds(range, rows);
        long found = slices.stream().mapToLong(s -> s.source().rows()).sum();
        List<Slice> differing = slices.stream().filter(s -> !s.isSame()).toList();
        if (differing.size() > MOST * slices.size() && found > NLICE) {
            RangeResult part = stretch.merge(List.of(range), sink);
            return new RangeResult(part.counts(), "stream", part.damage(), List.of());
        }
        List<Slice> same = new ArrayList<>(slices.stream().filter(Slice::isSame).toList());
        if (wholeNumber && !differing.isEmpty()) {
            List<Slice> finer = refined(differing, step(range, rows) / FINE_SLICES);
            same.addAll(finer.stream().filter(Slice::isSame).toList());
            differing = finer.stream().filter(s -> !s.isSame()).toList();
        }
        selfCheck.look(
                same.stream()
                        .map(s -> new SelfCheck.Same(s.keys(), s.source().rows()))
                        .toList(),
                new Look());
        Counts counts = Counts.allSame(
                same.stream().mapToLong(s -> s.source().rows()).sum(),
                match.pairs().size());
        List<DifferenceHistogram.Cell> cells = new ArrayList<>();
        same.forEach(s -> cells.add(
                new DifferenceHistogram.Cell(s.keys().from(), s.source().rows(), 0)));
        List<KeyRange> toRead = joined(differing);
        for (int i = 0; i < toRead.size(); i += RANGES_PER_QUERY) {
            RangeResult part = stretch.merge(toRead.subList(i, Math.min(toRead.size(), i + RANGES_PER_QUERY)), sink);
            counts = counts.plus(part.counts());
            cells.addAll(part.damage());
        }
        cells.sort(Comparator.comparing(DifferenceHistogram.Cell::from, KeyOrder.ASCENDING));
        return new RangeResult(counts, "checksum", DifferenceHistogram.condensed(cells, 240), List.of());
    }

    /** How the self-check looks at rows. */
    private final class Look implements SelfCheck.Look {
        @Override
        public List<KeyRange> pieces(SelfCheck.Same slice, long rows) {
            KeyRange keys = slice.keys();
            if (rows >= slice.rows()) {
                return List.of(keys);
            }
            if (wholeNumber && isLong(keys.from()) && isLong(keys.to())) {
                return List.of(selfCheck.stretch(number(keys.from()), number(keys.to()), slice.rows(), rows));
            }
            ReadRequest request = new ReadRequest(match.source(), ofSource.key(), ofSource.key()).within(List.of(keys));
            return keys.cutAt(bounds(request, rows));
        }

        private boolean isLong(List<Value> bound) {
            return !bound.isEmpty() && bound.get(0) instanceof Value.Int;
        }

        @Override
        public boolean sumsAreEqual(KeyRange keys) {
            var answers = ask(List.of(keys), OptionalLong.empty());
            return answers.source()
                    .getOrDefault(0L, RangeSum.NOTHING)
                    .proves(answers.target().getOrDefault(0L, RangeSum.NOTHING));
        }

        @Override
        public boolean rowsDiffer(KeyRange keys) {
            FindingSink nowhere = new FindingSink() {
                @Override
                public void accept(Finding finding) {
                    // only whether there are any is asked
                }

                @Override
                public void restart() {
                    // nothing was kept
                }
            };
            return !stretch.merge(List.of(keys), nowhere).counts().nothingDiffers();
        }
    }

    private List<List<Value>> bounds(ReadRequest keys, long rows) {
        return places.source().seeking().orElseThrow().bounds(keys, rows);
    }

    /** Neighbours are read as one range. */
    private static List<KeyRange> joined(List<Slice> slices) {
        return KeyRange.joined(slices.stream().map(Slice::keys).toList());
    }

    private List<Slice> refined(List<Slice> slices, long step) {
        List<KeyRange> ranges = joined(slices);
        List<Slice> out = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i += RANGES_PER_QUERY) {
            out.addAll(byStep(ranges.subList(i, Math.min(ranges.size(), i + RANGES_PER_QUERY)), step));
        }
        return out;
    }

    private Pair.Answers<Map<Long, RangeSum>> ask(List<KeyRange> ranges, OptionalLong step) {
        var answers = places.sums(
                ofSource.over(ranges, step),
                ofTarget.over(ranges, step),
                stretch.context().stopAsked());
        stretch.context()
                .limit()
                .await(answers.source().values().stream()
                                .mapToLong(RangeSum::rows)
                                .sum()
                        + answers.target().values().stream()
                                .mapToLong(RangeSum::rows)
                                .sum());
        return answers;
    }

    /**
     * How many numbers a slice should span to hold {@link #NLICE} rows. A multiple of the number of fine slices
     * in it, so that none of them lies in two slices.
     */
    private static long step(KeyRange range, long rows) {
        double perSlice = NLICE;
        if (!range.from().isEmpty() && !range.to().isEmpty() && rows > 0) {
            perSlice = NLICE * (number(range.to()) - (double) number(range.from())) / rows;
        }
        return FINE_SLICES * (long) Math.max(1, Math.min(perSlice / FINE_SLICES, 1L << 52));
    }

    private static long number(List<Value> key) {
        return key.get(0) instanceof Value.Int number
                ? number.value()
                : ((Value.Decimal) key.get(0)).value().longValue();
    }

    private List<Slice> byStep(List<KeyRange> ranges, long step) {
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

    private List<Slice> byBounds(KeyRange range, long rows) {
        long perSlice = Math.max(NLICE * 2, rows / maxSlices + 1);
        ReadRequest keys = new ReadRequest(match.source(), ofSource.key(), ofSource.key()).within(List.of(range));
        List<KeyRange> ranges = range.cutAt(bounds(keys, perSlice));
        List<Slice> slices = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i += RANGES_PER_QUERY) {
            // Where the databases can't seek, all ranges are summed in one pass.
            int end = seeks ? Math.min(ranges.size(), i + RANGES_PER_QUERY) : ranges.size();
            List<KeyRange> some = ranges.subList(i, end);
            var answers = ask(some, OptionalLong.empty());
            for (long n = 0; n < some.size(); n++) {
                slices.add(new Slice(
                        some.get((int) n),
                        answers.source().getOrDefault(n, RangeSum.NOTHING),
                        answers.target().getOrDefault(n, RangeSum.NOTHING)));
            }
            if (!seeks) {
                break;
            }
        }
        return slices;
    }
}
