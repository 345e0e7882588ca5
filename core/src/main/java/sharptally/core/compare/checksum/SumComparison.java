package sharptally.core.compare.checksum;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Sliced.Slice;
import sharptally.core.compare.method.Eligibility;
import sharptally.core.compare.stream.ResultCounter;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.ReadRequest;
import sharptally.core.place.Side;
import sharptally.core.place.part.Checksums;
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

    /** The form that all engines share, as it is now. */
    private static final String COMMON = "common 2";

    /** Above this share of differing slices, reading all costs less than asking again. */
    private static final double MOST = 0.5;
    /** How many slices, spread over a range, tell beforehand whether most differ. */
    private static final int PROBES = 16;
    /** Ranges of fewer slices are not probed. */
    private static final int PROBED = 4 * PROBES;

    /** A part of a range that is read, or of which an earlier comparison tells. */
    private record Piece(Slice slice, boolean isKnown) {}

    private final TableMatch match;
    private final Pair places;
    private final StreamComparison stretch;
    private final SumsRequest ofSource;
    private final SumsRequest ofTarget;
    private final boolean wholeNumber;
    private final boolean seeks;
    private final long maxSlices;
    private final SelfCheck selfCheck;
    private final Optional<Known> known;
    private final String form;
    private final boolean remembers;

    /**
     * @param known what an earlier comparison found
     */
    public SumComparison(
            TableMatch match, Pair places, StreamComparison stretch, SelfCheck selfCheck, Optional<Known> known) {
        this.selfCheck = selfCheck;
        this.known = known;
        this.match = match;
        this.places = places;
        this.stretch = stretch;
        Eligibility eligibility = new Eligibility(match, places.source(), places.target());
        ofSource = eligibility.request(Side.SOURCE, eligibility.form());
        ofTarget = eligibility.request(Side.TARGET, eligibility.form());
        form = ofSource.form() == SumsRequest.Form.OWN
                ? places.source().checksums().flatMap(Checksums::ownForm).orElseThrow()
                : COMMON;
        // Checksums and rows of two states could tell of different things.
        remembers = places.source().readsOneState()
                && places.target().readsOneState()
                && match.pairs().stream().allMatch(p -> p.rules().isEmpty());
        wholeNumber = eligibility.isWholeNumber();
        seeks = eligibility.seek() == Seek.BY_INDEX;
        maxSlices = seeks ? Long.MAX_VALUE : 512;
    }

    /**
     * @param rows about how many there are in the range
     */
    public RangeResult compare(KeyRange range, long rows, FindingSink sink) {
        Optional<Sliced> before = known.flatMap(k -> k.of(range, form));
        // Whoever wants to know of it later has all slices summed.
        if (known.isEmpty() && probesDiffer(range, rows)) {
            return read(range, sink);
        }
        long step = wholeNumber ? before.map(Sliced::step).orElseGet(() -> step(range, rows)) : 0;
        Optional<List<Slice>> sliced = wholeNumber
                ? Optional.of(byStep(List.of(range), step))
                : before.map(b -> sums(range.cutAt(b.bounds()))).or(() -> byBounds(range, rows));
        if (sliced.isEmpty()) {
            return read(range, sink);
        }
        List<Slice> slices = sliced.get();
        Optional<Sliced> now = remembered(range, step, slices);
        List<Piece> pieces = new ArrayList<>(asBefore(before, slices));
        long found = slices.stream().mapToLong(s -> s.source().rows()).sum();
        Set<Slice> told = pieces.stream().map(Piece::slice).collect(Collectors.toSet());
        List<Slice> differing =
                slices.stream().filter(s -> !s.isSame() && !told.contains(s)).toList();
        boolean most = differing.size() > MOST * slices.size() && found > NLICE;
        if (most && pieces.isEmpty()) {
            RangeResult all = read(range, sink);
            return new RangeResult(all.counts(), all.method(), all.damage(), all.remarks(), listed(now));
        }
        List<Slice> same = new ArrayList<>(slices.stream().filter(Slice::isSame).toList());
        if (wholeNumber && !most && !differing.isEmpty()) {
            List<Slice> finer = refined(differing, step / FINE_SLICES);
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
        joined(differing).forEach(slice -> pieces.add(new Piece(slice, false)));
        pieces.sort(Comparator.comparing(piece -> piece.slice().keys().from(), KeyOrder.ASCENDING));
        for (int i = 0; i < pieces.size(); ) {
            int end = i + 1;
            RangeResult part;
            if (pieces.get(i).isKnown()) {
                part = known(pieces.get(i).slice(), sink);
            } else {
                while (end < pieces.size()
                        && end - i < RANGES_PER_QUERY
                        && !pieces.get(end).isKnown()) {
                    end++;
                }
                part = stretch.merge(
                        pieces.subList(i, end).stream()
                                .map(p -> p.slice().keys())
                                .toList(),
                        sink);
            }
            counts = counts.plus(part.counts());
            cells.addAll(part.damage());
            i = end;
        }
        cells.sort(Comparator.comparing(DifferenceHistogram.Cell::from, KeyOrder.ASCENDING));
        return new RangeResult(counts, "checksum", DifferenceHistogram.condensed(cells, 240), List.of(), listed(now));
    }

    private static List<Sliced> listed(Optional<Sliced> sliced) {
        return sliced.map(List::of).orElse(List.of());
    }

    /** What a later comparison may rely on. */
    private Optional<Sliced> remembered(KeyRange range, long step, List<Slice> slices) {
        if (!remembers) {
            return Optional.empty();
        }
        List<List<Value>> bounds = wholeNumber
                ? List.of()
                : slices.stream().skip(1).map(slice -> slice.keys().from()).toList();
        return Optional.of(new Sliced(
                form,
                range,
                step,
                bounds,
                slices.stream().filter(s -> !s.isSame()).toList()));
    }

    /** Slices that differ, and in which both sides hold what they held at an earlier comparison. */
    private static List<Piece> asBefore(Optional<Sliced> before, List<Slice> slices) {
        if (before.isEmpty()) {
            return List.of();
        }
        Map<KeyRange, Slice> then = before.get().differing().stream()
                .collect(Collectors.toMap(Slice::keys, slice -> slice, (one, other) -> one));
        return slices.stream()
                .filter(slice ->
                        !slice.isSame() && then.containsKey(slice.keys()) && slice.isAs(then.get(slice.keys())))
                .map(slice -> new Piece(slice, true))
                .toList();
    }

    /** What an earlier comparison found in a slice that is as it was then. */
    private RangeResult known(Slice slice, FindingSink sink) {
        ResultCounter counter = new ResultCounter(match.pairs().size());
        long lost = 0;
        Set<List<Value>> keys = new HashSet<>();
        for (Finding finding : known.orElseThrow().findings(slice.keys())) {
            counter.count(finding);
            sink.accept(finding);
            keys.add(finding.key());
            lost += finding instanceof Finding.Changed
                    ? 1
                    : finding instanceof Finding.Missing missing ? missing.times() : 0;
        }
        counter.same(slice.source().rows() - lost);
        return new RangeResult(
                counter.counts(slice.source().rows(), slice.target().rows()),
                "checksum",
                List.of(new DifferenceHistogram.Cell(
                        slice.keys().from(), Math.max(slice.source().rows(), keys.size()), keys.size())),
                List.of());
    }

    private List<Slice> sums(List<KeyRange> ranges) {
        if (!seeks) {
            return byBounds(ranges);
        }
        List<Slice> all = new ArrayList<>();
        for (int i = 0; i < ranges.size(); i += RANGES_PER_QUERY) {
            all.addAll(byBounds(ranges.subList(i, Math.min(ranges.size(), i + RANGES_PER_QUERY))));
        }
        return all;
    }

    private RangeResult read(KeyRange range, FindingSink sink) {
        RangeResult part = stretch.merge(List.of(range), sink);
        return new RangeResult(part.counts(), "stream", part.damage(), List.of());
    }

    private static boolean mostDiffer(List<Slice> slices) {
        return slices.stream().filter(s -> !s.isSame()).count() > MOST * slices.size();
    }

    /** Whether most of some slices that lie all over the range differ. */
    private boolean probesDiffer(KeyRange range, long rows) {
        if (!wholeNumber || !seeks || rows < PROBED * NLICE) {
            return false;
        }
        List<Value> from = range.from();
        List<Value> to = range.to();
        if (from.isEmpty() || to.isEmpty()) {
            if (match.source().query().isPresent() || !match.source().filters().isEmpty()) {
                // The ends would have to be looked for.
                return false;
            }
            ReadRequest keys = new ReadRequest(match.source(), ofSource.key(), ofSource.key())
                    .within(range.holdsAll() ? List.of() : List.of(range));
            List<List<Value>> ends = places.source().seeking().orElseThrow().ends(keys);
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
    private static List<Slice> joined(List<Slice> slices) {
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

    private List<Slice> refined(List<Slice> slices, long step) {
        List<KeyRange> ranges = joined(slices).stream().map(Slice::keys).toList();
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

    /** None where the first few tell that most differ. */
    private Optional<List<Slice>> byBounds(KeyRange range, long rows) {
        long perSlice = Math.max(NLICE * 2, rows / maxSlices + 1);
        ReadRequest keys = new ReadRequest(match.source(), ofSource.key(), ofSource.key()).within(List.of(range));
        List<KeyRange> ranges = range.cutAt(bounds(keys, perSlice));
        if (!seeks) {
            // All ranges are summed in one pass.
            return Optional.of(byBounds(ranges));
        }
        List<Slice> slices = new ArrayList<>();
        for (int i = 0; i < ranges.size(); ) {
            int end = Math.min(ranges.size(), i + (i == 0 ? PROBES : RANGES_PER_QUERY));
            slices.addAll(byBounds(ranges.subList(i, end)));
            if (i == 0 && known.isEmpty() && end < ranges.size() && mostDiffer(slices)) {
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
