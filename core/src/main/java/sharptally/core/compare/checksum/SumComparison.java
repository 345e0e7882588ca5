package sharptally.core.compare.checksum;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Collectors;
import sharptally.core.compare.Counts;
import sharptally.core.compare.Pair;
import sharptally.core.compare.RangeResult;
import sharptally.core.compare.checksum.Sliced.Slice;
import sharptally.core.compare.stream.ResultCounter;
import sharptally.core.compare.stream.StreamComparison;
import sharptally.core.finding.Finding;
import sharptally.core.finding.FindingSink;
import sharptally.core.match.TableMatch;
import sharptally.core.place.part.Checksums;
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
    /** The form that all engines share, as it is now. */
    private static final String COMMON = "common 2";

    /** A part of a range that is read, or of which an earlier comparison tells. */
    private record Piece(Slice slice, boolean isKnown) {}

    private final TableMatch match;
    private final Slicing slicing;
    private final StreamComparison stretch;
    private final SelfCheck selfCheck;
    private final Optional<Known> known;
    private final String form;
    private final boolean remembers;

    /**
     * @param known what an earlier comparison found
     * @param bounds of slices, where they are known
     */
    public SumComparison(
            TableMatch match,
            Pair places,
            StreamComparison stretch,
            SelfCheck selfCheck,
            Optional<Known> known,
            SliceBounds bounds) {
        this.selfCheck = selfCheck;
        this.known = known;
        this.match = match;
        this.stretch = stretch;
        slicing = new Slicing(match, places, bounds, stretch.context());
        form = slicing.form() == SumsRequest.Form.OWN
                ? places.source().checksums().flatMap(Checksums::ownForm).orElseThrow()
                : COMMON;
        // Checksums and rows of two states could tell of different things.
        remembers = places.source().readsOneState()
                && places.target().readsOneState()
                && match.pairs().stream().allMatch(p -> p.rules().isEmpty());
    }

    /**
     * @param rows about how many there are in the range
     */
    public RangeResult compare(KeyRange range, long rows, FindingSink sink) {
        Optional<Sliced> before = known.flatMap(k -> k.of(range, form));
        // Whoever wants to know of it later has all slices summed.
        if (known.isEmpty() && slicing.probesDiffer(range, rows)) {
            return read(range, sink);
        }
        long step = slicing.isByNumber() ? before.map(Sliced::step).orElseGet(() -> Slicing.step(range, rows)) : 0;
        Optional<List<Slice>> sliced = slicing.isByNumber()
                ? Optional.of(slicing.byStep(List.of(range), step))
                : before.map(b -> slicing.sums(range.cutAt(b.bounds())))
                        .or(() -> slicing.byBounds(range, rows, known.isEmpty()));
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
        boolean most = differing.size() > Slicing.MOST * slices.size() && found > Slicing.ROWS_PER_SLICE;
        if (most && pieces.isEmpty()) {
            RangeResult all = read(range, sink);
            return new RangeResult(all.counts(), all.method(), all.damage(), all.remarks(), listed(now));
        }
        List<Slice> same = new ArrayList<>(slices.stream().filter(Slice::isSame).toList());
        if (slicing.isByNumber() && !most && !differing.isEmpty()) {
            List<Slice> finer = slicing.refined(differing, step / Slicing.FINE_SLICES);
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
        Slicing.joined(differing).forEach(slice -> pieces.add(new Piece(slice, false)));
        pieces.sort(Comparator.comparing(piece -> piece.slice().keys().from(), KeyOrder.ASCENDING));
        for (int i = 0; i < pieces.size(); ) {
            int end = i + 1;
            RangeResult part;
            if (pieces.get(i).isKnown()) {
                part = known(pieces.get(i).slice(), sink);
            } else {
                while (end < pieces.size()
                        && end - i < Slicing.RANGES_PER_QUERY
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
        List<List<Value>> bounds = slicing.isByNumber()
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

    private RangeResult read(KeyRange range, FindingSink sink) {
        RangeResult part = stretch.merge(List.of(range), sink);
        return new RangeResult(part.counts(), "stream", part.damage(), List.of());
    }

    /** How the self-check looks at rows. */
    private final class Look implements SelfCheck.Look {
        @Override
        public List<KeyRange> pieces(SelfCheck.Same slice, long rows) {
            KeyRange keys = slice.keys();
            if (rows >= slice.rows()) {
                return List.of(keys);
            }
            if (slicing.isByNumber() && isLong(keys.from()) && isLong(keys.to())) {
                return List.of(
                        selfCheck.stretch(Slicing.number(keys.from()), Slicing.number(keys.to()), slice.rows(), rows));
            }
            return slicing.cut(keys, rows);
        }

        private boolean isLong(List<Value> bound) {
            return !bound.isEmpty() && bound.get(0) instanceof Value.Int;
        }

        @Override
        public boolean sumsAreEqual(KeyRange keys) {
            var answers = slicing.ask(List.of(keys), OptionalLong.empty());
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
}
